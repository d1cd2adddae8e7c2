import { useState } from "react"
import { Link } from "react-router"

import { sheetAs, useSheet } from "../../api/digest"
import { Button } from "../../parts/button"
import { Ticked } from "../../parts/checkbox"
import { Failure, Waiting } from "../../parts/notice"
import { t } from "../../words"
import { type At, Line } from "./line"

// Questions are what a document answers: to read, to print, or as a quiz in which the answers are
// hidden until they are asked for.
export function Questions({ collection, document, shown, onShow }: At) {
  const sheet = useSheet(collection, document)
  const [quiz, setQuiz] = useState(false)
  const [told, setTold] = useState<number[]>([])
  if (sheet.isPending) return <Waiting what={t("Drafting questions and trying them on the document…")} />
  if (sheet.isError) return <Failure error={sheet.error} />
  if (sheet.data.questions.length === 0) return <p className="text-quiet">{t("No question could be drafted that this document answers for sure.")}</p>
  return (
    <>
      <div className="mb-4 flex flex-wrap items-center gap-x-6 gap-y-2">
        <Ticked
          checked={quiz}
          label={t("Quiz: hide the answers")}
          onChange={(on) => {
            setQuiz(on)
            setTold([])
          }}
        />
        <a href={sheetAs(collection, document)} download={`${document}-questions.md`} className="text-leaf underline underline-offset-4">
          {t("Save them with a key")}
        </a>
      </div>
      <ol className="space-y-4">
        {sheet.data.questions.map((q, i) => (
          <li key={i}>
            <p className="flex flex-wrap items-baseline justify-between gap-x-4 px-2 font-serif text-lg">
              {q.question}
              <Link to={`/c/${collection}/ask?q=${encodeURIComponent(q.question)}`} className="font-sans text-sm text-leaf underline underline-offset-4">
                {t("Ask it")}
              </Link>
            </p>
            {quiz && !told.includes(i) ? (
              <Button className="mt-1 ml-2" onClick={() => setTold([...told, i])}>
                {t("Show the answer")}
              </Button>
            ) : (
              <Line quote={q.quote} shown={shown} onShow={onShow}>
                <strong>{q.answer}</strong>
              </Line>
            )}
          </li>
        ))}
      </ol>
    </>
  )
}
