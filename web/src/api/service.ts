import { useState } from "react"

import { Refusal, type Schemas } from "./client"
import { stream } from "./stream"

// A Run is something long that the service does once: how far it is, and what came of it.
export type Run<Result> = { done: number; all: number; result?: Result; problem?: string; running: boolean }

// useRun runs what the service tells the progress of.
export function useRun<Result>(path: string, finished: string) {
  const [run, setRun] = useState<Run<Result>>()
  const start = async () => {
    let now: Run<Result> = { done: 0, all: 0, running: true }
    const note = (change: Partial<Run<Result>>) => setRun((now = { ...now, ...change }))
    note({})
    try {
      await stream(path, undefined, {
        progress: (p: { done: number; all: number }) => note(p),
        [finished]: (result: Result) => note({ result }),
        problem: (p: { detail: string }) => note({ problem: p.detail }),
      })
    } catch (error) {
      note({ problem: error instanceof Error ? error.message : String(error) })
    }
    note({ running: false })
  }
  return { run, start: () => void start() }
}

type Picker = (options: object) => Promise<{ createWritable: () => Promise<WritableStream> }>

// saveBackup writes a backup of everything into a file that the browser asks for; one that
// cannot do so gets it as a download.
export async function saveBackup() {
  const name = `jardinet-${new Date().toISOString().slice(0, 10)}.tar`
  const pick = (window as { showSaveFilePicker?: Picker }).showSaveFilePicker
  const file = await pick?.({ suggestedName: name })
  const response = await fetch("/api/v1/backup", { method: "POST", headers: { "Content-Type": "application/json" }, body: "{}" })
  if (!response.ok || !response.body) throw new Refusal((await response.json()) as Schemas["Problem"])
  if (file) return response.body.pipeTo(await file.createWritable())
  const link = document.createElement("a")
  link.href = URL.createObjectURL(await response.blob())
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}
