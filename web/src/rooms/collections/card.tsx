import { Trash2 } from "lucide-react"
import { Link } from "react-router"

import type { Collection } from "../../api/client"
import { useOwns, useRemoveCollection } from "../../api/queries"
import { Confirm } from "../../parts/confirm"
import { Failure } from "../../parts/notice"
import { plural, size, t } from "../../words"
import { Describe } from "./describe"

// Card is one collection: what it is for, what it holds, what wants attention.
export function Card({ collection: c }: { collection: Collection }) {
  const remove = useRemoveCollection()
  const owns = useOwns(c.name)
  const { ready = 0 } = c.documents
  return (
    <article className="rounded-lg border border-line bg-sheet px-5 py-5 sm:px-6">
      <div className="flex items-start justify-between gap-4">
        <h2 className="min-w-0 text-2xl break-words">
          <Link to={`/c/${c.name}/ask`} className="hover:underline">
            {c.name}
          </Link>
        </h2>
        {owns && (
          <span className="flex items-center gap-1">
            <Describe collection={c} />
            <Confirm
              trigger={
                <button type="button" aria-label={t("Remove {name}", { name: c.name })} className="p-1 text-quiet hover:text-brick">
                  <Trash2 aria-hidden className="size-4.5" />
                </button>
              }
              title={t("Remove {name}?", { name: c.name })}
              text={plural(ready, "{n} document and all measurements of this collection will be gone, and cannot be put back.|{n} documents and all measurements of this collection will be gone, and cannot be put back.")}
              action={t("Remove")}
              onConfirm={() => remove.mutate(c.name)}
            />
          </span>
        )}
      </div>
      {c.description && <p className="mt-1 max-w-prose">{c.description}</p>}
      <p className="figures mt-1 text-quiet">
        {[plural(ready, "{n} document|{n} documents"), plural(c.pages, "{n} page|{n} pages"), plural(c.passages, "{n} passage|{n} passages"), size(c.bytes)].join(", ")}
      </p>
      <Health collection={c} />
      <p className="mt-3 flex flex-wrap gap-x-6 gap-y-1">
        <To collection={c.name} room="ask" label={t("Ask")} />
        <To collection={c.name} room="intake" label={c.right === "reader" ? t("Documents") : t("Add documents")} />
        <To collection={c.name} room="pages" label={t("Pages")} />
        {owns && <To collection={c.name} room="accuracy" label={t("Accuracy")} />}
      </p>
      {remove.isError && <Failure error={remove.error} />}
    </article>
  )
}

// Health says what wants attention, each with the place where something can be done about it.
function Health({ collection: c }: { collection: Collection }) {
  const { failed = 0, queued = 0, reading = 0, indexing = 0 } = c.documents
  const under = queued + reading + indexing
  return (
    <p className="figures flex flex-wrap gap-x-5 text-sm">
      {under > 0 && (
        <Link to={`/c/${c.name}/intake`} className="hover:underline">
          {c.paused ? plural(under, "{n} document waits: the intake is paused|{n} documents wait: the intake is paused") : plural(under, "{n} document on its way in|{n} documents on their way in")}
        </Link>
      )}
      {failed > 0 && (
        <Link to={`/c/${c.name}/intake?state=failed`} className="text-brick hover:underline">
          {plural(failed, "{n} document could not be taken in|{n} documents could not be taken in")}
        </Link>
      )}
      {(c.reports ?? 0) > 0 && (
        <Link to={`/c/${c.name}/accuracy/readers`} className="text-ochre hover:underline">
          {plural(c.reports ?? 0, "{n} note from readers|{n} notes from readers")}
        </Link>
      )}
      {c.doubtful > 0 && (
        <Link to={`/c/${c.name}/pages#worst`} className="text-ochre hover:underline">
          {plural(c.doubtful, "{n} page to look at|{n} pages to look at")}
        </Link>
      )}
    </p>
  )
}

const To = ({ collection, room, label }: { collection: string; room: string; label: string }) => (
  <Link className="text-leaf underline underline-offset-4" to={`/c/${collection}/${room}`}>
    {label}
  </Link>
)
