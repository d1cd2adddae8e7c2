import { Refusal, type Schemas } from "./client"

// Heard are those who hear the events of a stream, by their kinds.
export type Heard = { [kind: string]: (data: never) => void }

// stream posts a request that is answered by server-sent events, and has them heard.
export async function stream(path: string, body: object | undefined, heard: Heard, signal?: AbortSignal) {
  const response = await fetch(`/api/v1${path}`, {
    method: "POST",
    headers: { ...(body && { "Content-Type": "application/json" }), Accept: "text/event-stream" },
    body: body && JSON.stringify(body),
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
