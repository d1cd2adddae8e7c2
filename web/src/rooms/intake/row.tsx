import { Check, CircleAlert, RotateCw, Trash2 } from "lucide-react"
import { Link } from "react-router"

import type { Document } from "../../api/client"
import { useReadAgain } from "../../api/documents"
import { useEdits, useRemoveDocument, useRestoreDocument } from "../../api/queries"
import { Bar } from "../../parts/bar"
import { Checkbox } from "../../parts/checkbox"
import { pageAt } from "../../parts/place"
import { tell } from "../../parts/toast"
import { day, number, size, t, when } from "../../words"
import { grid } from "./columns"
import { Password } from "./password"
import { wordFor } from "./states"
import { Tags } from "./tags"

type Props = { document: Document; place: number; collection: string; selected: boolean; onSelect: (on: boolean) => void }

// Row is one document: how far it is, what is amiss with it, and what can be done about that.
export function Row({ document: d, place, collection, selected, onSelect }: Props) {
  const edits = useEdits(collection)
  return (
    <div role="row" aria-rowindex={place} className={`${grid} border-t border-line px-1 py-2.5 ${selected ? "bg-ochre-wash/40" : ""}`}>
      <span role="cell" className="pt-0.5">
        {edits && <Checkbox label={t("Select {name}", { name: d.name })} checked={selected} onChange={onSelect} />}
      </span>
      <span role="cell">
        <Mark state={d.state} />
      </span>
      <div role="cell" className="min-w-0">
        <Name document={d} collection={collection} />
        {d.reason && <p className="text-brick">{d.reason}</p>}
        {d.warning && <p className="text-ochre">{d.warning}</p>}
        {d.state === "reading" && <Bar done={d.pages_done} of={d.pages} label={t("pages read")} />}
        {d.state === "ready" && d.encoded < d.passages && <Bar done={d.encoded} of={d.passages} label={t("passages found by their meaning")} />}
        {d.state === "failed" && edits && (d.reason.startsWith("A password is needed") ? <Password document={d} collection={collection} /> : <Again document={d} collection={collection} />)}
      </div>
      <span role="cell" className="figures max-w-28 text-right text-sm text-quiet md:max-w-none md:text-left">
        {wordFor(d)}
        <span className="hidden md:block">{size(d.size)}</span>
      </span>
      <span role="cell" className="figures hidden text-sm text-quiet md:block" title={t("Of 100 points, as a mean over its pages")}>
        {d.state === "ready" && number(d.score)}
      </span>
      <span role="cell" className="figures hidden text-sm text-quiet md:block" title={when(d.added)}>
        {day(d.added)}
      </span>
      <span role="cell">{edits && <Remove document={d} collection={collection} />}</span>
    </div>
  )
}

function Name({ document: d, collection }: { document: Document; collection: string }) {
  return (
    <>
      {d.state === "ready" ? (
        <Link to={pageAt(collection, d.name, 1)} className="break-words hover:underline">
          {d.name}
        </Link>
      ) : (
        <span className="break-words">{d.name}</span>
      )}
      {d.title && <span className="ml-3 text-quiet">{d.title}</span>}
      <Tags document={d} collection={collection} />
      {d.fields?.address && <span className="block truncate text-sm text-quiet" title={d.fields.address}>{d.fields.address}</span>}
    </>
  )
}

function Mark({ state }: { state: Document["state"] }) {
  if (state === "ready") return <Check aria-label={t("ready")} className="mt-0.5 size-5 text-leaf" />
  if (state === "failed") return <CircleAlert aria-label={t("failed")} className="mt-0.5 size-5 text-brick" />
  return <span aria-hidden className={`mx-1 mt-2 block size-2.5 rounded-full ${state === "queued" ? "border border-quiet" : "bg-ochre"}`} />
}

function Again({ document: d, collection }: { document: Document; collection: string }) {
  const again = useReadAgain(collection)
  return (
    <button type="button" disabled={again.isPending} onClick={() => again.mutate(d.id)} className="mt-1 inline-flex items-center gap-1 text-sm text-leaf underline">
      <RotateCw aria-hidden className="size-4" />
      {t("Try again")}
    </button>
  )
}

// Remove puts a document into the bin, from where it can be taken back at once.
function Remove({ document: d, collection }: { document: Document; collection: string }) {
  const remove = useRemoveDocument(collection)
  const restore = useRestoreDocument(collection)
  // The row is gone before the service has answered, so this must not be left to it.
  const away = () =>
    void remove.mutateAsync(d.id).then(
      () => tell(t("{name} was removed; no answer comes from it any more.", { name: d.name }), () => restore.mutate(d.name)),
      (error: Error) => tell(error.message),
    )
  return (
    <button type="button" disabled={remove.isPending} aria-label={t("Remove {name}", { name: d.name })} onClick={away} className="p-0.5 text-quiet hover:text-brick">
      <Trash2 aria-hidden className="size-4" />
    </button>
  )
}
