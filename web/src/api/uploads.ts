import { useSyncExternalStore } from "react"

import { t } from "../words"
import type { Schemas } from "./client"

// An Upload is a file on its way to the service. Uploads go on when their view is left, and
// end with the tab.
export type Upload = {
  id: number
  collection: string
  file: File
  sent: number // bytes
  state: "waiting" | "sending" | "taken" | "duplicate" | "refused" | "failed"
  reason: string
}

// Files are sent a few requests at a time, each with as many small files as are worth it.
const atOnce = 2
const bytesAtOnce = 8e6
const filesAtOnce = 25

let all: Upload[] = []
let next = 1
let running = 0
const under = new Map<XMLHttpRequest, Upload[]>()
const listeners = new Set<() => void>()

function change(edit: (u: Upload) => Partial<Upload> | undefined) {
  all = all.map((u) => {
    const to = edit(u)
    return to ? { ...u, ...to } : u
  })
  listeners.forEach((l) => l())
}

const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

// useUploads are a collection's uploads, in the order in which they were handed in.
export const useUploads = (collection: string) => useSyncExternalStore(subscribe, () => all).filter((u) => u.collection === collection)

// upload sends files to a collection.
export function upload(collection: string, files: File[]) {
  const waiting = files.map((file): Upload => ({ id: next++, collection, file, sent: 0, state: "waiting", reason: "" }))
  all = [...all.filter((u) => u.collection !== collection || isUnder(u)), ...waiting]
  change(() => undefined)
  for (let i = 0; i < atOnce; i++) void work()
}

export const isUnder = (u: Upload) => u.state === "waiting" || u.state === "sending"

// stopUploads drops those of a collection that the service has not got yet.
export function stopUploads(collection: string) {
  const mine = (u: Upload) => u.collection === collection && isUnder(u)
  change((u) => (mine(u) ? { state: "failed", reason: t("stopped") } : undefined))
  for (const [request, batch] of under) if (batch[0]?.collection === collection) request.abort()
}

// sendAgain sends those that failed once more.
export function sendAgain(collection: string) {
  change((u) => (u.collection === collection && u.state === "failed" ? { state: "waiting", sent: 0, reason: "" } : undefined))
  for (let i = 0; i < atOnce; i++) void work()
}

// forgetUploads takes what is done with off the list.
export function forgetUploads(collection: string) {
  all = all.filter((u) => u.collection !== collection || isUnder(u))
  change(() => undefined)
}

window.addEventListener("beforeunload", (event) => {
  if (all.some(isUnder)) event.preventDefault()
})

// work sends one batch after another until none waits.
async function work() {
  if (running >= atOnce) return
  running++
  for (let batch = take(); batch.length > 0; batch = take()) await deliver(batch)
  running--
}

function take(): Upload[] {
  const batch: Upload[] = []
  let bytes = 0
  for (const u of all) {
    if (u.state !== "waiting" || (batch[0] && batch[0].collection !== u.collection)) continue
    if (batch.length > 0 && (batch.length === filesAtOnce || bytes + u.file.size > bytesAtOnce)) break
    bytes += u.file.size
    batch.push(u)
  }
  const ids = new Set(batch.map((u) => u.id))
  change((u) => (ids.has(u.id) ? { state: "sending" } : undefined))
  return batch
}

// deliver sends a batch and notes what became of each file. If none of several was taken they
// are sent one by one, to learn the reason of each.
async function deliver(batch: Upload[]) {
  const { status, body, wait } = await post(batch)
  const settle = (state: Upload["state"], reason: string) => change((u) => (batch.some((b) => b.id === u.id) && isUnder(u) ? { state, reason } : undefined))
  if (status === 429) {
    settle("waiting", "")
    await new Promise((done) => setTimeout(done, wait))
  } else if (status === 202) {
    taken(batch, body as Taken)
  } else if (status === 422 && batch.length > 1) {
    for (const one of batch) await deliver([one])
  } else if (status === 0) {
    settle("failed", t("The service could not be reached."))
  } else {
    const { detail, title } = (body ?? {}) as Partial<Schemas["Problem"]>
    settle(status === 422 ? "refused" : "failed", detail ?? title ?? t("The service answered {status}.", { status: String(status) }))
  }
}

type Taken = { added: Schemas["Added"][]; refused: Schemas["Refused"][] }

// taken notes what the service says of each file; those taken come in the order of the form. What
// was within an archive or a mail is told with it.
function taken(batch: Upload[], said: Taken) {
  const added = said.added.filter((a) => !a.within)
  for (const b of batch) {
    const reasons = said.refused.filter((r) => r.name === b.file.name).map((r) => r.reason)
    const within = said.added.some((a) => a.within === b.file.name)
    const own = reasons.length > 0 || (within && added[0]?.document.name !== b.file.name) ? undefined : added.shift()
    const to: Partial<Upload> = reasons.length > 0 ? { state: "refused", reason: reasons.join(" ") } : { state: own?.duplicate ? "duplicate" : "taken", sent: b.file.size }
    change((u) => (u.id === b.id ? to : undefined))
  }
}

type Said = { status: number; body?: unknown; wait: number }

function post(batch: Upload[]): Promise<Said> {
  return new Promise((done) => {
    const request = new XMLHttpRequest()
    under.set(request, batch)
    request.upload.onprogress = (e) => progress(batch, e.loaded)
    request.onloadend = () => {
      under.delete(request)
      done({ status: request.status, body: parsed(request.responseText), wait: 1000 * Number(request.getResponseHeader("Retry-After") ?? 1) })
    }
    const form = new FormData()
    for (const u of batch) form.append("file", u.file, u.file.name)
    request.open("POST", `/api/v1/collections/${encodeURIComponent(batch[0]?.collection ?? "")}/documents`)
    request.send(form)
  })
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}

// progress shares what was sent of a batch among its files, in their order.
function progress(batch: Upload[], loaded: number) {
  let left = loaded
  const sent = new Map<number, number>()
  for (const u of batch) {
    sent.set(u.id, Math.min(left, u.file.size))
    left = Math.max(0, left - u.file.size)
  }
  change((u) => (sent.has(u.id) ? { sent: sent.get(u.id) } : undefined))
}
