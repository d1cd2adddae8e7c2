import { Link, useSearchParams } from "react-router"

import { useVersions } from "../../api/documents"
import { Failure, Waiting } from "../../parts/notice"
import { pageAt } from "../../parts/place"
import { plural, t, when } from "../../words"

type Props = { collection: string; document: string; at: number }

// Versions lists the files that have had this name; each can be shown beside the one that is open.
export function Versions({ collection, document, at }: Props) {
  const versions = useVersions(collection, document)
  const [search] = useSearchParams()
  if (versions.isPending) return <Waiting what={t("Looking up the versions…")} />
  if (versions.isError) return <Failure error={versions.error} />
  const beside = search.get("beside")
  return (
    <>
      {versions.data.length < 2 && <p className="text-sm text-quiet">{t("There is one version. Put a file of the same name in, and the earlier ones are kept here.")}</p>}
      <ol className="mt-1 space-y-2 text-sm">
        {versions.data.map((v, i) => (
          <li key={v.id} className="figures border-l-2 border-line pl-2">
            <Link to={pageAt(collection, v.id, 1)} className="hover:underline">
              {when(v.added)}
            </Link>
            <span className="block text-quiet">
              {plural(v.pages, "{n} page|{n} pages")}, {i === 0 && v.state === "ready" ? t("answers come from it") : v.state === "replaced" ? t("replaced") : v.state}
            </span>
            {versions.data.length > 1 && (
              <Link to={{ pathname: pageAt(collection, document, at), search: beside === v.id ? "?side=versions" : `?side=versions&beside=${v.id}` }} className="text-leaf underline">
                {beside === v.id ? t("Close it") : t("Show beside")}
              </Link>
            )}
          </li>
        ))}
      </ol>
    </>
  )
}
