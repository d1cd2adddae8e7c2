import { Tooltip } from "radix-ui"

import type { Answer, Citation } from "../../api/client"
import { pageName } from "../../parts/place"
import { t } from "../../words"
import type { Shows } from "./spots"

type Props = { of: Answer["statements"]; answer: Answer; at: number; onShow: Shows }

// Statements is an answer's text, each sentence with marks that lead to where it stands.
export function Statements({ of, answer, at, onShow }: Props) {
  return (
    <div className="mt-3 max-w-prose space-y-2.5 font-serif text-[1.13rem] leading-relaxed">
      {of.map((s, i) => (
        <p key={i} className={`break-words ${s.unproven ? "text-quiet line-through decoration-brick" : ""}`}>
          {s.contrary && <span className="mb-1 block font-sans text-sm text-ochre">{t("Otherwise in {document}:", { document: s.contrary })}</span>}
          <Marked text={s.text} words={answer.verdict ? "" : answer.short} />
          {s.unproven && <span className="mx-2 inline-block font-sans text-sm text-brick no-underline">{t("not supported by the documents")}</span>}
          {answer.citations.map((c, n) => s.citations.includes(c.number) && <Mark key={c.number} citation={c} shown={n === at} onShow={() => onShow(n)} />)}
        </p>
      ))}
    </div>
  )
}

// Marked is a text with the words that answer in it set off.
function Marked({ text, words }: { text: string; words: string }) {
  const at = words ? text.toLowerCase().indexOf(words.toLowerCase()) : -1
  if (at < 0) return text
  return (
    <>
      {text.slice(0, at)}
      <mark className="rounded-sm bg-ochre-wash text-inherit">{text.slice(at, at + words.length)}</mark>
      {text.slice(at + words.length)}
    </>
  )
}

// Mark is a citation's number. It says the quote when it is pointed at, and shows the page when
// it is pressed.
function Mark({ citation: c, shown, onShow }: { citation: Citation; shown: boolean; onShow: () => void }) {
  return (
    <Tooltip.Provider delayDuration={250}>
      <Tooltip.Root>
        <Tooltip.Trigger asChild>
          <button
            type="button"
            data-printed
            onClick={onShow}
            aria-label={t("{number}: show where this stands, {document}, {page}", { number: c.number, document: c.document, page: pageName(c.page, c.label) })}
            aria-pressed={shown}
            className={`figures ml-1.5 inline-flex h-6 min-w-6 -translate-y-0.5 items-center justify-center rounded px-1 font-sans text-xs font-semibold ${shown ? "bg-ochre text-sheet" : "bg-ochre-wash text-ochre hover:bg-ochre hover:text-sheet"}`}
          >
            {c.number}
          </button>
        </Tooltip.Trigger>
        <Tooltip.Portal>
          <Tooltip.Content sideOffset={6} className="z-20 max-w-sm rounded-lg border border-line bg-sheet px-4 py-3 shadow-xl">
            <span className="block font-serif">“{c.quote}”</span>
            <span className="figures mt-1 block text-sm text-quiet">
              {c.document}, {pageName(c.page, c.label)}
            </span>
          </Tooltip.Content>
        </Tooltip.Portal>
      </Tooltip.Root>
    </Tooltip.Provider>
  )
}
