import { RotateCw, Trash2 } from "lucide-react"

import type { Schemas } from "../../api/client"
import { useLookAtSource, useRemoveSource, useSources } from "../../api/sources"
import { Confirm } from "../../parts/confirm"
import { Failure } from "../../parts/notice"
import { plural, t, when } from "../../words"

// Sources are the addresses and folders that documents come from, again and again.
export function Sources({ collection }: { collection: string }) {
  const sources = useSources(collection, true)
  if (sources.isError) return <Failure error={sources.error} />
  if (!sources.data?.length) return null
  return (
    <section className="mt-10">
      <h2 className="text-xl">{t("Where documents come from")}</h2>
      <ul className="mt-3 divide-y divide-line border-y border-line">
        {sources.data.map((s) => (
          <Row key={s.id} collection={collection} source={s} />
        ))}
      </ul>
    </section>
  )
}

const kinds = { address: t("address"), folder: t("watched folder"), webdav: t("folder by WebDAV") }

function Row({ collection, source: s }: { collection: string; source: Schemas["Source"] }) {
  const look = useLookAtSource(collection)
  const remove = useRemoveSource(collection)
  const error = look.error ?? remove.error
  return (
    <li className="py-2.5">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
        <span className="min-w-0 grow break-all">{s.at}</span>
        <span className="figures text-sm text-quiet">
          {[kinds[s.kind], plural(s.files, "{n} file|{n} files"), s.checked ? t("looked at {when}", { when: when(s.checked) }) : ""].filter(Boolean).join(", ")}
        </span>
        <span className="flex gap-2">
          <button type="button" disabled={look.isPending} aria-label={t("Look at {at} now", { at: s.at })} onClick={() => look.mutate(s.id)} className="p-1 text-quiet hover:text-leaf">
            <RotateCw aria-hidden className={`size-4 ${look.isPending ? "animate-spin" : ""}`} />
          </button>
          <Confirm
            trigger={
              <button type="button" aria-label={t("Forget {at}", { at: s.at })} className="p-1 text-quiet hover:text-brick">
                <Trash2 aria-hidden className="size-4" />
              </button>
            }
            title={t("Look there no more?")}
            text={t("The documents that came from there stay.")}
            action={t("Forget it")}
            onConfirm={() => remove.mutate(s.id)}
          />
        </span>
      </div>
      {s.problem && <p className="text-ochre">{s.problem}</p>}
      {error && <Failure error={error} />}
    </li>
  )
}
