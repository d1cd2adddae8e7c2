import { useState } from "react"

import type { Box, Corrections, Page } from "../../api/client"
import { useCorrect, useCorrections, useEdits } from "../../api/queries"
import { Button } from "../../parts/button"
import { Findings } from "../../parts/findings"
import { kinds } from "../../parts/kinds"
import { Failure } from "../../parts/notice"
import { PagePicture, type Outline } from "../../parts/page-picture"
import { Zoomed } from "../../parts/zoom"
import { t } from "../../words"
import { Block } from "./block"
import { Correction } from "./correction"
import { Views, type View } from "./views"

const passageInks = ["#3f7d3a", "#2f5d8a", "#8a3f6b", "#b07414"]

// outlinesOf draws blocks in their order, or the passages that they are cut into.
function outlinesOf(page: Page, view: View): Outline[] {
  if (view === "blocks") {
    return page.blocks.map((b, i) => ({ box: b.box, name: String(i + 1), ink: kinds[b.kind].ink, faint: b.kind === "furniture" }))
  }
  if (view === "passages") {
    return page.passages.flatMap((p) =>
      p.boxes.map((box, i) => ({ box, name: i === 0 ? `P${p.ordinal + 1}` : undefined, ink: passageInks[p.ordinal % passageInks.length] ?? "#000" })),
    )
  }
  return []
}

type Props = { collection: string; page: Page; marks: Box[]; zoom: number }

// Reading shows a page's picture and, beside it, what was read from it block by block.
export function Reading({ collection, page, marks, zoom }: Props) {
  const [pointed, setPointed] = useState(-1)
  const [edited, setEdited] = useState(-1)
  const [view, setView] = useState<View>(() => (sessionStorage.getItem("drawn") as View | null) ?? "blocks")
  const corrections = useCorrections(collection, page.document, page.number)
  const correct = useCorrect(collection, page.document, page.number)
  const edits = useEdits(collection)
  const block = page.blocks[edited >= 0 ? edited : pointed]
  const save = (c: Corrections) => correct.mutate(c, { onSuccess: () => setEdited(-1) })
  const draw = (wanted: View) => {
    setView(wanted)
    sessionStorage.setItem("drawn", wanted)
  }
  const blocksShown = view === "blocks"
  return (
    <div className="grid gap-6 md:grid-cols-[minmax(0,11fr)_minmax(0,9fr)]">
      <div className="md:sticky md:top-4 md:self-start">
        <Views view={view} onView={draw} />
        <Zoomed zoom={zoom} className="max-h-[calc(100dvh-5rem)]">
          <PagePicture
            collection={collection}
            document={page.document_id}
            number={page.number}
            outlines={outlinesOf(page, view)}
            marks={block ? [...marks, block.box] : marks}
            onPick={blocksShown && edits ? setEdited : undefined}
            onPoint={blocksShown ? setPointed : undefined}
          />
        </Zoomed>
      </div>
      <section aria-label={t("What was read")} className="min-w-0 space-y-4">
        {page.problem && <p className="text-ochre">{page.problem}</p>}
        <Findings findings={page.findings} />
        {correct.isError && <Failure error={correct.error} />}
        {edits && page.blocks.length === 0 && corrections.data && !corrections.data.recognise && (
          <Button onClick={() => save({ ...corrections.data, recognise: true })}>{t("Read the text from the picture")}</Button>
        )}
        <ol className="space-y-1">
          {page.blocks.map((b, i) => (
            <li key={i} onMouseEnter={() => setPointed(i)}>
              <Block block={b} place={i + 1} lit={i === pointed || i === edited} onEdit={edits ? () => setEdited(i) : undefined} />
              {i === edited && corrections.data && (
                <Correction block={b} place={i + 1} of={page.blocks.length} corrections={corrections.data} busy={correct.isPending} onSave={save} onClose={() => setEdited(-1)} />
              )}
            </li>
          ))}
        </ol>
      </section>
    </div>
  )
}
