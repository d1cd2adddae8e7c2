import { type FormEvent, useState } from "react"

import { usePutQuestion } from "../../api/accuracy"
import type { Question } from "../../api/client"
import { Button } from "../../parts/button"
import { Field } from "../../parts/field"
import { Failure } from "../../parts/notice"
import { EvidencePicker } from "./evidence-picker"
import { t } from "../../words"

type Props = { collection: string; set: string; question: Question; onClose: () => void }

const list = (s: string) => s.split(";").map((p) => p.trim()).filter(Boolean)

// QuestionForm edits a question; a new one gets its id from its words.
export function QuestionForm({ collection, set, question, onClose }: Props) {
  const put = usePutQuestion(collection, set)
  const [q, setQ] = useState(question)
  const [accept, setAccept] = useState((question.accept ?? []).join("; "))
  const [tags, setTags] = useState((question.tags ?? []).join("; "))
  const [after, setAfter] = useState((question.after ?? []).join("; "))
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const id = q.id || "q-" + Math.abs([...q.question].reduce((h, c) => (h * 31 + (c.codePointAt(0) ?? 0)) | 0, 7)).toString(36)
    put.mutate({ ...q, id, accept: list(accept), tags: list(tags), after: list(after), draft: false }, { onSuccess: onClose })
  }
  return (
    <form onSubmit={submit} aria-label={question.id ? t("Edit {id}", { id: question.id }) : t("New question")} className="mt-5 space-y-4 rounded-lg border border-line bg-sheet p-5">
      <Field label={t("Question")} required maxLength={2000} value={q.question} onChange={(e) => setQ({ ...q, question: e.target.value })} autoFocus />
      <div className="grid gap-4 md:grid-cols-2">
        <Field label={t("Answer")} hint={t("As a good answer would say it")} value={q.answer ?? ""} disabled={q.answerable === false} onChange={(e) => setQ({ ...q, answer: e.target.value })} />
        <Field label={t("Accepted wordings")} hint={t("An answer with any of these is right; separate them with semicolons")} value={accept} disabled={q.answerable === false} onChange={(e) => setAccept(e.target.value)} />
        <Field label={t("Tags")} hint={t("Kinds of question, separated by semicolons")} value={tags} onChange={(e) => setTags(e.target.value)} />
        <Field label={t("Split")} hint={t("Part of the set, such as dev or test")} value={q.split ?? ""} onChange={(e) => setQ({ ...q, split: e.target.value })} />
        <Field label={t("Asked before")} hint={t("Earlier questions of the conversation")} value={after} onChange={(e) => setAfter(e.target.value)} />
        <Field label={t("Comment")} value={q.comment ?? ""} onChange={(e) => setQ({ ...q, comment: e.target.value })} />
      </div>
      <label className="flex items-center gap-2">
        <input type="checkbox" className="accent-leaf" checked={q.answerable === false} onChange={(e) => setQ({ ...q, answerable: e.target.checked ? false : undefined, evidence: e.target.checked ? [] : q.evidence })} />
        {t("The documents do not answer it")}
      </label>
      {q.answerable !== false && <EvidencePicker collection={collection} evidence={q.evidence ?? []} onChange={(evidence) => setQ({ ...q, evidence })} />}
      {put.isError && <Failure error={put.error} />}
      <div className="flex gap-3">
        <Button type="submit" kind="main" disabled={put.isPending}>
          {question.draft ? t("Save and accept") : t("Save")}
        </Button>
        <Button onClick={onClose}>{t("Cancel")}</Button>
      </div>
    </form>
  )
}
