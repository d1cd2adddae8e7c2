import { useQueryClient } from "@tanstack/react-query"
import { useRef, useState } from "react"

import { Refusal, type Answer, type Schemas, type Scope } from "./client"

type Found = Schemas["Found"]
type Statement = Schemas["Statement"]

// Asking is a question that is being answered: what was found and said so far, or why it failed.
export type Asking = { question: string; found: Found[]; draft: string; statements: Statement[]; problem?: string }

type Heard = { [kind: string]: (data: never) => void }

// stream asks a question and hears how its answer comes about; the answer is kept in the
// conversation as soon as it is whole.
async function stream(collection: string, body: object, heard: Heard, signal: AbortSignal) {
  const response = await fetch(`/api/v1/collections/${encodeURIComponent(collection)}/ask`, {
    method: "POST",
    headers: { "Content-Type": "application/json", Accept: "text/event-stream" },
    body: JSON.stringify(body),
    signal,
  })
  if (!response.ok || !response.body) throw new Refusal((await response.json()) as Schemas["Problem"])
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader()
  for (let text = ""; ; ) {
    const { done, value } = await reader.read()
    if (done) return
    const events = (text + value).split("\n\n")
    text = events.pop() ?? ""
    for (const event of events) {
      const kind = /^event: (.*)$/m.exec(event)?.[1]
      const data = /^data: (.*)$/m.exec(event)?.[1]
      if (kind && data) heard[kind]?.(JSON.parse(data) as never)
    }
  }
}

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
      await stream(collection, { question, conversation: conversation || "new", ...scope }, heard, abort.current.signal)
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
