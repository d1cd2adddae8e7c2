import { useQueryClient } from "@tanstack/react-query"
import { useEffect } from "react"

import type { Document } from "./client"

// useIntake follows what happens to a collection's documents and keeps the
// list of documents up to date while someone looks at it.
export function useIntake(collection: string) {
  const queries = useQueryClient()
  useEffect(() => {
    const key = ["documents", collection]
    const stream = new EventSource(`/api/v1/collections/${encodeURIComponent(collection)}/events`)
    const change = (edit: (all: Document[]) => Document[]) =>
      queries.setQueryData<Document[]>(key, (all) => edit(all ?? []))
    stream.addEventListener("document", (event) => {
      const document = JSON.parse((event as MessageEvent<string>).data) as Document
      change((all) => place(all, document))
    })
    stream.addEventListener("removed", (event) => {
      const { id } = JSON.parse((event as MessageEvent<string>).data) as { id: string }
      change((all) => all.filter((d) => d.id !== id))
    })
    return () => stream.close()
  }, [collection, queries])
}

// place puts a document into a list that is sorted by name.
function place(all: Document[], document: Document): Document[] {
  const others = all.filter((d) => d.id !== document.id)
  if (document.state === "replaced") return others
  return [...others, document].sort((a, b) => a.name.localeCompare(b.name))
}
