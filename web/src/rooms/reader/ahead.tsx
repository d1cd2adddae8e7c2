import { useQueryClient } from "@tanstack/react-query"
import { useEffect } from "react"

import { pictureOf } from "../../api/client"
import { pageQuery } from "../../api/queries"

type Props = { collection: string; document: string | undefined; at: number; of: number }

// Ahead fetches the next page and the one before, so that turning to them does not wait.
export function Ahead({ collection, document, at, of }: Props) {
  const queries = useQueryClient()
  useEffect(() => {
    if (!document) return
    for (const n of [at + 1, at - 1]) {
      if (n < 1 || n > of) continue
      void queries.prefetchQuery(pageQuery(collection, document, n))
      new Image().src = pictureOf(collection, document, n, 130)
    }
  }, [queries, collection, document, at, of])
  return null
}
