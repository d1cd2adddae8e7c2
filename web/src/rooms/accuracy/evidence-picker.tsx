import { useState } from "react"

import type { Schemas } from "../../api/client"
import { useDocuments, usePage } from "../../api/queries"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { field } from "../../parts/field"
import { PagePicture } from "../../parts/page-picture"
import { t } from "../../words"

type Evidence = Schemas["Evidence"]
type Props = { collection: string; evidence: Evidence[]; onChange: (evidence: Evidence[]) => void }

// EvidencePicker shows what proves an answer, and adds to it what is clicked on a page's picture.
export function EvidencePicker({ collection, evidence, onChange }: Props) {
  const documents = (useDocuments(collection).data ?? []).filter((d) => d.state === "ready")
  const first = evidence[0]?.document
  const [open, setOpen] = useState(false)
  const [document, setDocument] = useState(first ?? "")
  const [page, setPage] = useState(evidence[0]?.page ?? 1)
  const shown = documents.find((d) => d.name === document) ?? documents[0]
  return (
    <fieldset>
      <legend>{t("What proves it; any one of these is enough")}</legend>
      <ul className="mt-1 space-y-1">
        {evidence.map((e, i) => (
          <li key={i} className="flex flex-wrap items-baseline gap-3 text-sm">
            <span className="figures">{(e.all ?? [e]).map((p) => `${p.document}, page ${p.page}`).join(t(" together with "))}</span>
            {e.quote && <span className="text-quiet">“{e.quote}”</span>}
            <button type="button" className="text-brick underline underline-offset-4" onClick={() => onChange(evidence.filter((_, k) => k !== i))}>
              {t("Remove")}
            </button>
          </li>
        ))}
      </ul>
      <Button className="mt-2" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? t("Close the page") : t("Pick on a page")}
      </Button>
      {open && shown && (
        <div className="mt-3">
          <div className="flex flex-wrap items-end gap-4 text-sm">
            <Choose label={t("Document")} value={shown.name} onChange={(d) => { setDocument(d); setPage(1) }} of={documents.map((d) => [d.name, d.name])} />
            <label>
              {t("Page of {pages}", { pages: shown.pages })}
              <input type="number" min={1} max={shown.pages} value={page} onChange={(e) => setPage(Math.max(1, Math.min(shown.pages, Number(e.target.value))))} className={`${field} mt-1 block w-24`} />
            </label>
            <p className="text-quiet">{t("Click the lines that answer.")}</p>
          </div>
          <Picked key={`${shown.id} ${page}`} collection={collection} document={shown.name} page={page} onPick={(e) => { onChange([...evidence, e]); setOpen(false) }} />
        </div>
      )}
    </fieldset>
  )
}

function Picked({ collection, document, page, onPick }: { collection: string; document: string; page: number; onPick: (e: Evidence) => void }) {
  const read = usePage(collection, document, page)
  const blocks = (read.data?.blocks ?? []).filter((b) => b.kind !== "furniture" && b.text)
  const [pointed, setPointed] = useState(-1)
  const quote = (i: number) => onPick({ document, page, quote: blocks[i]?.text.split(/\s+/).join(" ") })
  return (
    <div className="mt-3 max-w-xl">
      <PagePicture
        collection={collection}
        document={document}
        number={page}
        outlines={blocks.map((b) => ({ box: b.box, ink: "#2a6539", faint: true }))}
        marks={blocks[pointed] ? [blocks[pointed].box] : []}
        onPick={quote}
        onPoint={setPointed}
      />
      <Button className="mt-2" onClick={() => onPick({ document, page })}>
        {t("The whole page")}
      </Button>
    </div>
  )
}
