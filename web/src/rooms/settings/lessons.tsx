import { Trash2 } from "lucide-react"

import type { Schemas } from "../../api/client"
import { useForget, useLessons } from "../../api/queries"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { plural, t } from "../../words"
import { Sought } from "../../parts/sought"

// Lessons lists the questions to which somebody has shown where the answers stand,
// those that are not used first.
export function Lessons({ collection }: { collection: string }) {
  const lessons = useLessons(collection)
  const forget = useForget(collection)
  if (lessons.isPending) return <Waiting what={t("Looking up the lessons…")} />
  if (lessons.isError) return <Failure error={lessons.error} />
  const all = lessons.data
  const unused = all.filter((l) => l.problem)
  return (
    <section>
      <h1 className="text-2xl">{t("Lessons")}</h1>
      <p className="mt-2 max-w-prose text-quiet">
        {t("Questions to which somebody has shown where the answer stands. A question that means the same is answered from there. {all}", { all: plural(all.length, "{n} lesson|{n} lessons") })}
        {unused.length > 0 && <span className="text-ochre">{t(", {unused} not used", { unused: unused.length })}</span>}.
      </p>
      {all.length === 0 && <Empty title={t("No lesson yet")}>{t("Ask a question and choose “Show where the answer stands”.")}</Empty>}
      {forget.isError && <Failure error={forget.error} />}
      <Sought all={[...unused, ...all.filter((l) => !l.problem)]} words={(l) => l.question} what={t("Find a lesson")}>
        {(shown) => (
          <ul className="mt-4">
            {shown.map((l) => (
              <Line key={l.id} lesson={l} onForget={() => l.id && forget.mutate(l.id)} />
            ))}
          </ul>
        )}
      </Sought>
    </section>
  )
}

function Line({ lesson, onForget }: { lesson: Schemas["Lesson"]; onForget: () => void }) {
  const first = lesson.evidence[0]
  const at = first?.all?.[0] ?? first
  return (
    <li className="flex items-start gap-3 border-t border-line py-1.5">
      <div className="grow">
        <p className="font-medium">{lesson.question}</p>
        <p className="figures text-sm text-quiet">
          {t("{document}, page {page}: “{quote}”", { document: at?.document, page: at?.page, quote: at?.quote })}
        </p>
        {lesson.problem && <p className="text-sm text-ochre">{t("Not used: {problem}.", { problem: lesson.problem })}</p>}
      </div>
      <button type="button" aria-label={t("Forget: {question}", { question: lesson.question })} onClick={onForget} className="p-1 text-quiet hover:text-brick">
        <Trash2 aria-hidden className="size-4" />
      </button>
    </li>
  )
}
