import type { Answer, Schemas } from "../../api/client"
import { pageName } from "../../parts/place"
import { t } from "../../words"
import { Statements } from "./statements"
import type { Shows } from "./spots"
import { sure } from "./sure"

type Props = { answer: Answer; at: number; onShow: Shows }

// Body is what the documents say, and where.
export function Body({ answer, at, onShow }: Props) {
  return (
    <div className="mt-3">
      {answer.standalone !== answer.question && <p className="text-sm text-quiet">{t("Read as: {question}", { question: answer.standalone })}</p>}
      {answer.parts?.length ? (
        answer.parts.map((part, i) => <PartOf key={i} part={part} answer={answer} at={at} onShow={onShow} />)
      ) : (
        <>
          {answer.short && <p className="mt-2 font-serif text-3xl break-words">{answer.short}</p>}
          <Statements of={answer.statements} answer={answer} at={at} onShow={onShow} />
        </>
      )}
      {answer.added && <p className="mt-3 max-w-prose font-serif text-[1.13rem]">{answer.added}</p>}
      {answer.note && <p className="mt-3 max-w-prose rounded-md bg-ochre-wash px-3 py-2 text-sm">{answer.note}</p>}
      <p className="mt-3 text-sm text-quiet" title={t("Confidence {n}", { n: answer.confidence.toFixed(2) })}>
        {sure(answer)}
      </p>
      <ul aria-label={t("Where it stands")} className="figures mt-3 space-y-1 text-sm">
        {answer.citations.map((c, i) => (
          <li key={c.number}>
            <button type="button" data-printed onClick={() => onShow(i)} className={`rounded px-1.5 py-0.5 text-left hover:bg-ochre-wash ${i === at ? "bg-ochre-wash" : ""}`}>
              <span className="mr-2 font-semibold text-ochre">{c.number}</span>
              {c.document}, {pageName(c.page, c.label)}
              {c.section.length > 0 && <span className="text-quiet"> · {c.section.at(-1)}</span>}
            </button>
            <p className="hidden pl-6 print:block">{c.quote}</p>
          </li>
        ))}
      </ul>
    </div>
  )
}

// PartOf is the answer to one of several questions that were asked in one.
function PartOf({ part, answer, at, onShow }: Props & { part: Schemas["Part"] }) {
  return (
    <section className="mt-4 border-l-2 border-line pl-4">
      <h3 className="text-quiet">{part.question}</h3>
      {part.short && <p className="mt-1 font-serif text-2xl">{part.short}</p>}
      {part.state === "not_found" && <p className="mt-1 font-serif text-xl text-ochre">{t("The documents do not say.")}</p>}
      <Statements of={part.statements.flatMap((i) => answer.statements[i] ?? [])} answer={answer} at={at} onShow={onShow} />
    </section>
  )
}
