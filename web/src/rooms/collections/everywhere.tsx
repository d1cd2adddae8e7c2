import { ArrowRight } from "lucide-react"
import type { FormEvent } from "react"
import { Link } from "react-router"

import type { Schemas } from "../../api/client"
import { useAskAcross } from "../../api/sources"
import { Button } from "../../parts/button"
import { useDraft } from "../../parts/draft"
import { Failure } from "../../parts/notice"
import { pageAt, pageName } from "../../parts/place"
import { t } from "../../words"

// Everywhere asks all collections at once, and leads to the one that answers.
export function Everywhere() {
  const ask = useAskAcross()
  const [question, setQuestion] = useDraft("question everywhere")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    ask.mutate(question.trim())
  }
  const answered = (ask.data ?? []).filter((a) => a.answer.state !== "not_found")
  return (
    <section className="pb-4">
      <form onSubmit={submit}>
        <label htmlFor="everywhere" className="block font-medium">
          {t("Ask all of them")}
        </label>
        <div className="mt-2 flex gap-2 rounded-lg border border-quiet bg-sheet p-1.5 focus-within:border-leaf">
          <input id="everywhere" value={question} maxLength={2000} autoComplete="off" onChange={(e) => setQuestion(e.target.value)} className="min-w-0 grow bg-transparent px-2.5 py-1 outline-none" />
          <Button kind="main" type="submit" disabled={!question.trim() || ask.isPending}>
            {ask.isPending ? t("Asking…") : t("Ask")} <ArrowRight aria-hidden className="size-4" />
          </Button>
        </div>
      </form>
      {ask.isError && <Failure error={ask.error} />}
      <div role="status">
        {ask.data && answered.length === 0 && <p className="mt-3 font-serif text-xl">{t("None of the collections says.")}</p>}
        {answered.map((a) => (
          <Found key={a.collection} collection={a.collection} answer={a.answer} />
        ))}
      </div>
    </section>
  )
}

function Found({ collection, answer: a }: { collection: string; answer: Schemas["Answer"] }) {
  const cite = a.citations[0]
  return (
    <article className="mt-4 border-l-2 border-ochre pl-4">
      <p className="text-sm text-quiet">{collection}</p>
      {a.short && <p className="font-serif text-2xl">{a.short}</p>}
      <p className="max-w-prose font-serif">{a.statements[0]?.text}</p>
      <p className="mt-1 flex flex-wrap gap-x-5 text-sm">
        {cite && (
          <Link to={pageAt(collection, cite.document, cite.page)} className="text-leaf underline underline-offset-4">
            {cite.document}, {pageName(cite.page, cite.label)}
          </Link>
        )}
        <Link to={`/c/${collection}/ask?q=${encodeURIComponent(a.question)}`} className="text-leaf underline underline-offset-4">
          {t("Ask there, with the page beside it")}
        </Link>
      </p>
    </article>
  )
}
