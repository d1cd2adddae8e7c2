import { useRef, useState } from "react"
import { Link, useNavigate, useParams } from "react-router"

import { useDraft, useImportSet, useRemoveSet, useSets } from "../../api/accuracy"
import { Button } from "../../parts/button"
import { Confirm } from "../../parts/confirm"
import { field } from "../../parts/field"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { t, when } from "../../words"

// QuestionSets lists the kept sets, and makes new ones out of files or drafts.
export function QuestionSets() {
  const { collection = "" } = useParams()
  const sets = useSets(collection)
  const put = useImportSet(collection)
  const remove = useRemoveSet(collection)
  const picker = useRef<HTMLInputElement>(null)
  const go = useNavigate()
  const take = (file: File | undefined) => file && put.mutate(file, { onSuccess: (s) => go(`/c/${collection}/accuracy/questions/${s.name}`) })
  return (
    <div className="max-w-4xl">
      <h1 className="text-3xl">{t("Questions that prove it still works")}</h1>
      <p className="mt-2 max-w-prose text-quiet">
        {t("Each question has the answers that are accepted and the pages that prove them, or is marked as one that the documents do not answer. Each change makes a new version.")}
      </p>
      <div className="mt-5 flex flex-wrap items-end gap-6">
        <input ref={picker} type="file" accept=".jsonl,.csv" className="sr-only" aria-label={t("Question set")} tabIndex={-1} onChange={(e) => take(e.target.files?.[0])} />
        <Button kind="main" disabled={put.isPending} onClick={() => picker.current?.click()}>
          {t("Import a file")}
        </Button>
        <Drafts collection={collection} />
      </div>
      <div className="mt-6 space-y-4">
        {put.isError && <Failure error={put.error} />}
        {remove.isError && <Failure error={remove.error} />}
        {sets.isPending && <Waiting what={t("Looking up the sets…")} />}
        {sets.isError && <Failure error={sets.error} />}
        {sets.data?.length === 0 && <Empty title={t("No question set yet")}>{t("A file with one JSON object a line, or CSV; or drafts made from the documents, for you to accept, edit or drop.")}</Empty>}
        {sets.data && sets.data.length > 0 && (
          <table className="figures w-full border-collapse text-left">
            <thead className="text-sm text-quiet">
              <tr className="border-b border-line">
                <th className="py-2 font-normal">{t("Name")}</th>
                <th className="text-right font-normal">{t("Questions")}</th>
                <th className="text-right font-normal">{t("Drafts")}</th>
                <th className="text-right font-normal">{t("Version")}</th>
                <th className="pl-6 font-normal">{t("Changed")}</th>
                <th>
                  <span className="sr-only">{t("Remove")}</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {sets.data.map((s) => (
                <tr key={s.name} className="border-b border-line">
                  <td className="py-2">
                    <Link to={`/c/${collection}/accuracy/questions/${s.name}`} className="text-leaf underline underline-offset-4">
                      {s.name}
                    </Link>
                  </td>
                  <td className="text-right">{s.questions - s.drafts}</td>
                  <td className="text-right">{s.drafts || "–"}</td>
                  <td className="text-right">{s.version}</td>
                  <td className="pl-6">{when(s.changed)}</td>
                  <td className="text-right">
                    <Confirm
                      trigger={<Button aria-label={t("Remove {name}", { name: s.name })}>{t("Remove")}</Button>}
                      title={t("Remove {name}?", { name: s.name })}
                      text={t("All its versions go. Measurements made with it stay.")}
                      action={t("Remove")}
                      onConfirm={() => remove.mutate(s.name)}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
    </div>
  )
}

function Drafts({ collection }: { collection: string }) {
  const [name, setName] = useState("drafts")
  const [n, setN] = useState(30)
  const draft = useDraft(collection, name)
  return (
    <form
      className="flex flex-wrap items-end gap-3"
      onSubmit={(e) => {
        e.preventDefault()
        draft.mutate(n)
      }}
    >
      <label>
        {t("Questions to draft")}
        <input type="number" min={1} max={500} value={n} onChange={(e) => setN(Number(e.target.value))} className={`${field} mt-1 block w-24`} />
      </label>
      <label>
        {t("Into the set")}
        <input value={name} onChange={(e) => setName(e.target.value)} required className={`${field} mt-1 block w-44`} />
      </label>
      <Button type="submit" disabled={draft.isPending}>
        {t("Draft")}
      </Button>
      {draft.isError && <Failure error={draft.error} />}
    </form>
  )
}
