import type { Answer } from "../../api/client"
import { pageName } from "../../parts/place"
import { t } from "../../words"
import type { Shows } from "./spots"
import { Sentences, type Shows as Teaches } from "./teach"

type Props = { answer: Answer; at: number; onShow: Shows; onTeach?: Teaches }

// NotFound says that the documents do not say, what of the question they lack, and what comes
// closest, which is marked on its page.
export function NotFound({ answer, at, onShow, onTeach }: Props) {
  return (
    <div className="mt-3">
      <p className="font-serif text-2xl whitespace-pre-line">{answer.answer}</p>
      {answer.missing.length > 0 && <p className="mt-1 text-quiet">{t("Not in the nearest passages: {words}.", { words: answer.missing.join(", ") })}</p>}
      {answer.nearest.length > 0 && (
        <>
          <h3 className="mt-4 text-sm font-semibold">{answer.maybe ? t("This may be it") : t("What comes closest")}</h3>
          <ul className="mt-2 space-y-3">
            {answer.nearest.map((n, i) => (
              <li key={i} className={`border-l-2 pl-3 ${i === at ? "border-ochre" : "border-line"}`}>
                <button type="button" data-printed aria-pressed={i === at} onClick={() => onShow(i)} className="figures text-left text-sm text-quiet underline-offset-4 hover:underline">
                  {n.document}, {pageName(n.page, n.label)}
                  {n.section.length > 0 && ` · ${n.section.at(-1)}`}
                </button>
                {onTeach ? <Sentences of={n} onShow={onTeach} /> : <p className="max-w-prose break-words">{n.sentences.filter((s) => s.closest).map((s) => s.text).join(" ")}</p>}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  )
}
