import { Trash2 } from "lucide-react"
import { type FormEvent, useState } from "react"
import { Link, useNavigate } from "react-router"

import { useSession } from "../api/access"
import type { Collection } from "../api/client"
import { useCollections, useCreateCollection, useOwns, useRemoveCollection } from "../api/queries"
import { Button } from "../parts/button"
import { Confirm } from "../parts/confirm"
import { Empty, Failure, Waiting } from "../parts/notice"
import { plural } from "../parts/place"

export function Collections() {
  const collections = useCollections()
  const makes = useSession().data?.administrator
  return (
    <div className="max-w-4xl">
      <h1 className="text-3xl">Collections</h1>
      <p className="mt-2 max-w-prose text-quiet">
        A collection is a set of documents that are searched together. Ask it a question, or put more documents in.
      </p>
      <div className="mt-8 space-y-4">
        {collections.isPending && <Waiting what="Looking up the collections…" />}
        {collections.isError && <Failure error={collections.error} />}
        {collections.data?.length === 0 && (
          <Empty title="No collection yet">
            {makes ? "Give one a name below; then put documents into it." : "You have no right in any collection yet; the owner of one can give you one."}
          </Empty>
        )}
        {collections.data?.map((c) => <Entry key={c.name} collection={c} />)}
        {makes && <Create />}
      </div>
    </div>
  )
}

function Entry({ collection }: { collection: Collection }) {
  const remove = useRemoveCollection()
  const owns = useOwns(collection.name)
  const { ready = 0, failed = 0, queued = 0, reading = 0, indexing = 0 } = collection.documents
  const under = queued + reading + indexing
  return (
    <article className="rounded-lg border border-line bg-sheet px-6 py-5">
      <div className="flex items-start justify-between gap-4">
        <h2 className="text-2xl">
          <Link to={`/c/${collection.name}/ask`} className="hover:underline">
            {collection.name}
          </Link>
        </h2>
        {owns && (
          <Confirm
            trigger={
              <button type="button" aria-label={`Remove ${collection.name}`} className="p-1 text-quiet hover:text-brick">
                <Trash2 aria-hidden className="size-4.5" />
              </button>
            }
            title={`Remove ${collection.name}?`}
            text={`${plural(ready, "document")} and all measurements of this collection will be gone.`}
            action="Remove"
            onConfirm={() => remove.mutate(collection.name)}
          />
        )}
      </div>
      <p className="figures mt-1 text-quiet">
        {plural(ready, "document")}, {plural(collection.pages, "page")}, {plural(collection.passages, "passage")}
        {under > 0 && `, ${under} on the way in`}
        {failed > 0 && <span className="text-brick">, {failed} failed</span>}
      </p>
      <p className="mt-3 flex gap-6">
        <Link className="text-leaf underline underline-offset-4" to={`/c/${collection.name}/ask`}>
          Ask
        </Link>
        <Link className="text-leaf underline underline-offset-4" to={`/c/${collection.name}/intake`}>
          {collection.right === "reader" ? "Documents" : "Add documents"}
        </Link>
        {owns && (
          <Link className="text-leaf underline underline-offset-4" to={`/c/${collection.name}/accuracy`}>
            Accuracy
          </Link>
        )}
      </p>
      {remove.isError && <Failure error={remove.error} />}
    </article>
  )
}

function Create() {
  const [name, setName] = useState("")
  const create = useCreateCollection()
  const go = useNavigate()
  const submit = (event: FormEvent) => {
    event.preventDefault()
    create.mutate(name.trim(), { onSuccess: (made) => go(`/c/${made.name}/intake`) })
  }
  return (
    <form onSubmit={submit} className="space-y-2 pt-4">
      <label htmlFor="name" className="block font-medium">
        New collection
      </label>
      <div className="flex gap-3">
        <input
          id="name"
          value={name}
          onChange={(e) => setName(e.target.value)}
          placeholder="manuals"
          autoComplete="off"
          className="w-72 rounded-md border border-quiet bg-sheet px-3 py-1.5"
        />
        <Button kind="main" type="submit" disabled={!name.trim() || create.isPending}>
          Create
        </Button>
      </div>
      {create.isError && <Failure error={create.error} />}
    </form>
  )
}
