import { Undo2 } from "lucide-react"

import type { Schemas } from "../../api/client"
import { useBin, useOwns, usePurgeDocument, useRestoreDocument } from "../../api/queries"
import { Confirm } from "../../parts/confirm"
import { Failure } from "../../parts/notice"
import { day, plural, t } from "../../words"

// Bin lists what was removed and can be put back.
export function Bin({ collection }: { collection: string }) {
  const bin = useBin(collection, true)
  if (bin.isError) return <Failure error={bin.error} />
  if (!bin.data?.length) return null
  return (
    <section className="mt-10">
      <h2 className="text-xl">{t("Removed")}</h2>
      <ul className="mt-3 divide-y divide-line border-y border-line">
        {bin.data.map((r) => (
          <Row key={r.name + r.removed} removed={r} collection={collection} />
        ))}
      </ul>
    </section>
  )
}

function Row({ removed: r, collection }: { removed: Schemas["Removal"]; collection: string }) {
  const restore = useRestoreDocument(collection)
  const purge = usePurgeDocument(collection)
  const owns = useOwns(collection)
  const error = restore.error ?? purge.error
  return (
    <li className="py-2.5">
      <div className="flex flex-wrap items-baseline gap-x-5">
        <span className="grow">{r.name}</span>
        <span className="figures text-sm text-quiet">
          {t("{versions}, {pages}; gone for good on {day}", { versions: plural(r.versions, "{n} version|{n} versions"), pages: plural(r.pages, "{n} page|{n} pages"), day: day(r.until) })}
        </span>
        <button type="button" onClick={() => restore.mutate(r.name)} className="inline-flex items-center gap-1 text-sm text-leaf underline">
          <Undo2 aria-hidden className="size-4" />
          {t("Put back")}
        </button>
        {owns && (
          <Confirm
            trigger={<button type="button" className="text-sm text-brick underline">{t("Remove for good")}</button>}
            title={t("Remove {name} for good?", { name: r.name })}
            text={t("Its records, pages and originals will be gone, in all versions.")}
            action={t("Remove for good")}
            onConfirm={() => purge.mutate(r.name)}
          />
        )}
      </div>
      {error && <Failure error={error} />}
    </li>
  )
}
