import { type FormEvent, useState } from "react"

import type { Document } from "../../api/client"
import { useReadAgain } from "../../api/documents"
import { useRemoveDocument, useRestoreDocument, useSetTags } from "../../api/queries"
import { Button } from "../../parts/button"
import { Confirm } from "../../parts/confirm"
import { field } from "../../parts/field"
import { tell } from "../../parts/toast"
import { number, plural, t } from "../../words"

type Props = { collection: string; chosen: Document[]; onDone: () => void }

// Selected does the same with several documents at once.
export function Selected({ collection, chosen, onDone }: Props) {
  const [tag, setTag] = useState("")
  const [done, setDone] = useState<number>()
  const set = useSetTags(collection)
  const again = useReadAgain(collection)
  const remove = useRemoveDocument(collection)
  const restore = useRestoreDocument(collection)

  // each does something with one document after another, and says how it went.
  const each = async (some: Document[], act: (d: Document) => Promise<unknown>, said: (n: number) => string, undo?: (d: Document) => Promise<unknown>) => {
    const went: Document[] = []
    let problem = ""
    for (const [i, d] of some.entries()) {
      setDone(i)
      try {
        await act(d)
        went.push(d)
      } catch (error) {
        problem ||= error instanceof Error ? error.message : String(error)
      }
    }
    setDone(undefined)
    if (problem) tell(problem)
    if (went.length > 0) tell(said(went.length), undo && (() => void Promise.all(went.map(undo))))
    onDone()
  }
  const word = tag.trim().toLowerCase()
  const tagWith = (edit: (tags: string[]) => string[]) => (d: Document) => set.mutateAsync({ document: d.id, tags: edit(d.tags) })
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (word) void each(chosen, tagWith((tags) => [...tags, word]), (n) => plural(n, "{n} document has the tag now.|{n} documents have the tag now."))
  }
  const readable = chosen.filter((d) => d.state === "ready" || d.state === "failed")
  return (
    <div role="region" aria-label={t("Selected documents")} className="sticky top-2 z-10 mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 rounded-lg border border-leaf bg-sheet px-4 py-2.5 shadow-sm">
      <span role="status" className="figures">
        {done === undefined ? plural(chosen.length, "{n} selected|{n} selected") : t("{done} of {all}…", { done: number(done + 1), all: number(chosen.length) })}
      </span>
      <form onSubmit={submit} className="flex flex-wrap items-center gap-2">
        <input aria-label={t("Tag for the selected documents")} placeholder={t("tag")} value={tag} onChange={(e) => setTag(e.target.value)} className={`${field} w-36`} />
        <Button type="submit" disabled={!word || done !== undefined}>
          {t("Add tag")}
        </Button>
        <Button disabled={!chosen.some((d) => d.tags.includes(word)) || done !== undefined} onClick={() => void each(chosen.filter((d) => d.tags.includes(word)), tagWith((tags) => tags.filter((one) => one !== word)), (n) => plural(n, "The tag was taken off {n} document.|The tag was taken off {n} documents."))}>
          {t("Take tag off")}
        </Button>
      </form>
      <span className="ml-auto flex flex-wrap gap-2">
        <Button disabled={readable.length === 0 || done !== undefined} onClick={() => void each(readable, (d) => again.mutateAsync(d.id), (n) => plural(n, "{n} document is read again.|{n} documents are read again."))}>
          {t("Read again")}
        </Button>
        <Confirm
          trigger={
            <Button kind="danger" disabled={done !== undefined}>
              {t("Remove")}
            </Button>
          }
          title={plural(chosen.length, "Remove {n} document?|Remove {n} documents?")}
          text={t("No answer will come from them any more, nor from their earlier versions. For a week they can be put back.")}
          action={t("Remove")}
          onConfirm={() => void each(chosen, (d) => remove.mutateAsync(d.id), (n) => plural(n, "{n} document was removed.|{n} documents were removed."), (d) => restore.mutateAsync(d.name))}
        />
        <Button onClick={onDone}>{t("Select none")}</Button>
      </span>
    </div>
  )
}
