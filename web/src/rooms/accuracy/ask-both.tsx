import { type FormEvent, useEffect, useRef, useState } from "react"
import { Link, useSearchParams } from "react-router"

import { useTrialAnswer } from "../../api/accuracy"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { field } from "../../parts/field"
import { Failure, Waiting } from "../../parts/notice"
import { PagePicture } from "../../parts/page-picture"
import { t } from "../../words"

// AskBoth puts one question to the live set-up and to a trial, side by side.
export function AskBoth({ collection, trials }: { collection: string; trials: string[] }) {
  const given = useSearchParams()[0].get("q") ?? ""
  const [question, setQuestion] = useState(given)
  const [asked, setAsked] = useState(given)
  const section = useRef<HTMLElement>(null)
  useEffect(() => {
    if (given) section.current?.scrollIntoView()
  }, [given])
  const [trial, setTrial] = useState(trials[0] ?? "")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    setAsked(question.trim())
  }
  return (
    <section ref={section} className="mt-10">
      <h2 className="text-xl">{t("One question, both ways")}</h2>
      <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-3">
        <label className="grow">
          {t("Question")}
          <input value={question} required maxLength={2000} onChange={(e) => setQuestion(e.target.value)} className={`${field} mt-1 block w-full`} />
        </label>
        <Choose label={t("live and")} value={trial} onChange={setTrial} of={trials.map((one) => [one, one])} />
        <Button type="submit" kind="main">
          {t("Ask both")}
        </Button>
      </form>
      {asked && (
        <div className="mt-4 grid gap-8 md:grid-cols-2">
          <Answered collection={collection} trial="live" question={asked} />
          <Answered collection={collection} trial={trial} question={asked} />
        </div>
      )}
    </section>
  )
}

function Answered({ collection, trial, question }: { collection: string; trial: string; question: string }) {
  const a = useTrialAnswer(collection, trial, question)
  const cite = a.data?.citations[0]
  return (
    <div>
      <h3 className="text-sm text-quiet">
        {trial}
        {a.data && t(", with a confidence of {confidence}", { confidence: a.data.confidence.toFixed(2) })}
      </h3>
      {a.isPending && <Waiting what={t("Asking…")} />}
      {a.isError && <Failure error={a.error} />}
      {a.data && (
        <>
          <p className="mt-1 font-serif text-lg">{a.data.short || a.data.answer}</p>
          {a.data.statements.map((s, i) => (
            <p key={i} className="mt-1">
              {s.text}
            </p>
          ))}
        </>
      )}
      {cite && (
        <>
          <Link to={`/c/${collection}/pages/${encodeURIComponent(cite.document)}/${cite.page}`} className="text-sm text-leaf underline underline-offset-4">
            {t("{document}, page {page}", { document: cite.document, page: cite.page })}
          </Link>
          <div className="mt-2 max-w-sm">
            <PagePicture collection={collection} document={cite.document_id} number={cite.page} marks={cite.boxes} />
          </div>
        </>
      )}
    </div>
  )
}
