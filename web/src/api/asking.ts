import { useQueryClient } from "@tanstack/react-query"
import { useRef, useState } from "react"

import type { Answer, Schemas, Scope } from "./client"
import { type Heard, stream } from "./stream"

type Found = Schemas["Found"]
type Statement = Schemas["Statement"]

// Asking is a question that is being answered: what was found and said so far, or why it failed.
export type Asking = { question: string; found: Found[]; draft: string; statements: Statement[]; problem?: string }

// useAsking asks questions, one at a time. Each is asked once; what was asked is given back if
// it is stopped or fails.
export function useAsking(collection: string) {
  const [asking, setAsking] = useState<Asking>()
  const abort = useRef<AbortController>(undefined)
  const queries = useQueryClient()
  const ask = async (question: string, conversation: string, scope: Scope): Promise<Answer | undefined> => {
    abort.current = new AbortController()
    let now: Asking = { question, found: [], draft: "", statements: [] }
    const note = (change: Partial<Asking>) => setAsking((now = { ...now, ...change }))
    note({})
    let answer: Answer | undefined
    try {
      const heard: Heard = {
        passages: (found: Found[]) => note({ found }),
        draft: (d: { text: string }) => note({ draft: now.draft + d.text }),
        statement: (s: Statement) => note({ statements: [...now.statements, s] }),
        answer: (a: Answer) => (answer = a),
        problem: (p: { detail: string }) => note({ problem: p.detail }),
      }
      await stream(`/collections/${encodeURIComponent(collection)}/ask`, { question, conversation: conversation || "new", ...scope }, heard, abort.current.signal)
    } catch (error) {
      if (!abort.current.signal.aborted) note({ problem: error instanceof Error ? error.message : String(error) })
    }
    if (answer) {
      await queries.invalidateQueries({ queryKey: ["conversation", collection, answer.conversation] })
      void queries.invalidateQueries({ queryKey: ["conversations", collection] })
    }
    if (answer || abort.current.signal.aborted) setAsking(undefined)
    return answer
  }
  return { asking, ask, stop: () => abort.current?.abort(), forget: () => setAsking(undefined) }
}
