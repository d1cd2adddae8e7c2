import { useState } from "react"

import type { Answer, Asked, Citation, Schemas } from "../../api/client"
import { useEdits, useTeach } from "../../api/queries"
import { Failure } from "../../parts/notice"
import { pageName } from "../../parts/place"
import { CopyAnswer } from "./copy-answer"
import { Report } from "./report"
import { Sentences, Teach, type Shows as Teaches } from "./teach"
import { Trace } from "./trace"

// A Spot is a place in a document: a citation, or a nearest passage.
export type Spot = Pick<Citation, "document_id" | "document" | "title" | "page" | "label" | "boxes">
type Shows = { shown: Spot | undefined; onShow: (spot: Spot) => void }
type Props = Shows & { collection: string; asked: Asked; answer: Answer; onAgain: () => void }

// Entry is one question with the answer that was given to it. What was taught since shows when
// it is asked again.
export function Entry({ collection, asked, answer, shown, onShow, onAgain }: Props) {
  const [teaching, setTeaching] = useState(false)
  const teach = useTeach(collection)
  const edits = useEdits(collection)
  const taught = () => {
    setTeaching(false)
    onAgain()
  }
  const show: Teaches = (at) => teach.mutate([{ question: asked.question, after: asked.after, evidence: [at] }], { onSuccess: taught })
  return (
    <li className="border-t border-line pt-5">
      <h2 className="text-xl">{asked.question}</h2>
      <Body answer={answer} shown={shown} onShow={onShow} onTeach={teaching ? show : undefined} />
      {edits && (
        <button type="button" aria-expanded={teaching} onClick={() => setTeaching(!teaching)} className="mt-4 text-sm text-leaf underline">
          {teaching ? "Leave it as it is" : answer.state === "not_found" ? "Show where the answer stands" : "Not the answer? Show where it stands"}
        </button>
      )}
      {teaching && <Teach collection={collection} answer={answer} busy={teach.isPending} onShow={show} />}
      {teach.isError && <Failure error={teach.error} />}
      <Report collection={collection} asked={asked} answer={answer} />
      <p className="mt-3 flex gap-5 text-sm">
        <CopyAnswer asked={asked} answer={answer} />
        <button type="button" onClick={onAgain} className="text-leaf underline">
          Ask again
        </button>
      </p>
      <Trace collection={collection} asked={asked} />
    </li>
  )
}

function Body({ answer, shown, onShow, onTeach }: Shows & { answer: Answer; onTeach?: Teaches }) {
  if (answer.state === "not_found") return <NotFound answer={answer} onShow={onShow} onTeach={onTeach} />
  return (
    <div className="mt-3">
      {answer.standalone !== answer.question && <p className="text-sm text-quiet">Read as: {answer.standalone}</p>}
      {answer.parts?.length ? (
        answer.parts.map((part, i) => <PartOf key={i} part={part} answer={answer} shown={shown} onShow={onShow} />)
      ) : (
        <>
          {answer.short && <p className="mt-2 font-serif text-3xl">{answer.short}</p>}
          <Statements of={answer.statements} answer={answer} shown={shown} onShow={onShow} />
        </>
      )}
      {answer.added && <p className="mt-3 max-w-prose font-serif text-[1.13rem]">{answer.added}</p>}
      {answer.note && (
        <p className="mt-3 max-w-prose rounded-md bg-ochre-wash px-3 py-2 text-sm">{answer.note}</p>
      )}
      {answer.taught && <p className="mt-3 text-sm text-quiet">Somebody has shown where this stands.</p>}
      <ul className="figures mt-4 space-y-1 text-sm">
        {answer.citations.map((c) => (
          <li key={c.number}>
            <button type="button" onClick={() => onShow(c)} className={`rounded px-1.5 py-0.5 text-left hover:bg-ochre-wash ${same(c, shown) ? "bg-ochre-wash" : ""}`}>
              <span className="mr-2 font-semibold text-ochre">{c.number}</span>
              {c.document}, {pageName(c.page, c.label)}
              {c.section.length > 0 && <span className="text-quiet"> · {c.section.at(-1)}</span>}
            </button>
          </li>
        ))}
      </ul>
    </div>
  )
}

// PartOf is the answer to one of several questions that were asked in one.
function PartOf({ part, answer, shown, onShow }: Shows & { part: Schemas["Part"]; answer: Answer }) {
  return (
    <section className="mt-4 border-l-2 border-line pl-4">
      <h3 className="text-quiet">{part.question}</h3>
      {part.short && <p className="mt-1 font-serif text-2xl">{part.short}</p>}
      {part.state === "not_found" && <p className="mt-1 font-serif text-xl text-ochre">The documents do not say.</p>}
      <Statements of={part.statements.flatMap((i) => answer.statements[i] ?? [])} answer={answer} shown={shown} onShow={onShow} />
    </section>
  )
}

function Statements({ of, answer, shown, onShow }: Shows & { of: Answer["statements"]; answer: Answer }) {
  return (
    <div className="mt-3 max-w-prose space-y-2.5 font-serif text-[1.13rem] leading-relaxed">
      {of.map((s, i) => (
        <p key={i} className={s.unproven ? "text-quiet line-through decoration-brick" : ""}>
          {s.contrary && <span className="mb-1 block font-sans text-sm text-ochre">Otherwise in {s.contrary}:</span>}
          <Marked text={s.text} words={answer.verdict ? "" : answer.short} />
          {s.unproven && <span className="mx-2 inline-block font-sans text-sm text-brick no-underline">not supported by the documents</span>}
          {answer.citations
            .filter((c) => s.citations.includes(c.number))
            .map((c) => (
              <Mark key={c.number} citation={c} shown={same(c, shown)} onShow={onShow} />
            ))}
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

const same = (a: Spot, b: Spot | undefined) =>
  a.document_id === b?.document_id && a.page === b.page && JSON.stringify(a.boxes) === JSON.stringify(b.boxes)

// spotOf is what an answer has to show first.
export function spotOf(answer: Answer | undefined): Spot | undefined {
  const nearest = answer?.nearest[0]
  return answer?.citations[0] ?? (nearest && { ...nearest, boxes: [] })
}

function Mark({ citation, shown, onShow }: { citation: Citation; shown: boolean; onShow: (spot: Spot) => void }) {
  return (
    <button
      type="button"
      onClick={() => onShow(citation)}
      aria-label={`${citation.number}: show where this stands, ${citation.document}, ${pageName(citation.page, citation.label)}`}
      aria-pressed={shown}
      className={`figures ml-1.5 inline-flex h-5 min-w-5 -translate-y-1 items-center justify-center rounded px-1 font-sans text-xs font-semibold ${shown ? "bg-ochre text-sheet" : "bg-ochre-wash text-ochre hover:bg-ochre hover:text-sheet"}`}
    >
      {citation.number}
    </button>
  )
}

function NotFound({ answer, onShow, onTeach }: { answer: Answer; onShow: (spot: Spot) => void; onTeach?: Teaches }) {
  return (
    <div className="mt-3">
      <p className="font-serif text-2xl whitespace-pre-line">{answer.answer}</p>
      {answer.missing.length > 0 && (
        <p className="mt-1 text-quiet">Not in the nearest passages: {answer.missing.join(", ")}.</p>
      )}
      {answer.nearest.length > 0 && (
        <>
          <h3 className="mt-4 text-sm font-semibold">{answer.maybe ? "This may be it" : "What comes closest"}</h3>
          <ul className="mt-2 space-y-3">
            {answer.nearest.map((n, i) => (
              <li key={i} className="border-l-2 border-line pl-3">
                <button type="button" onClick={() => onShow({ ...n, boxes: [] })} className="figures text-left text-sm text-quiet underline-offset-4 hover:underline">
                  {n.document}, {pageName(n.page, n.label)}
                  {n.section.length > 0 && ` · ${n.section.at(-1)}`}
                </button>
                {onTeach ? <Sentences of={n} onShow={onTeach} /> : <p className="max-w-prose">{n.sentences.filter((s) => s.closest).map((s) => s.text).join(" ")}</p>}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  )
}
