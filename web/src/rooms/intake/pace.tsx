import { Pause, Play } from "lucide-react"

import type { Document } from "../../api/client"
import { usePace, usePause } from "../../api/documents"
import { useEdits } from "../../api/queries"
import { Bar } from "../../parts/bar"
import { Button } from "../../parts/button"
import { Failure } from "../../parts/notice"
import { lasting, number, plural, t } from "../../words"
import { isUnder } from "./states"

// Pace says how far the intake is, how fast it goes and how long it will take, and lets it wait.
export function Pace({ collection, all }: { collection: string; all: Document[] }) {
  const under = all.filter(isUnder)
  const pace = usePace(collection, under.length > 0)
  const pause = usePause(collection)
  const edits = useEdits(collection)
  const paused = pace.data?.paused ?? false
  if (under.length === 0) return null
  const done = all.length - under.length
  const parts = [
    t("{done} of {all} documents done", { done, all: all.length }),
    pace.data && !paused && pace.data.pages_per_second > 0 ? t("{n} pages a second", { n: number(pace.data.pages_per_second, pace.data.pages_per_second < 10 ? 1 : 0) }) : "",
    pace.data?.seconds_left != null ? t("about {time} left", { time: lasting(pace.data.seconds_left) }) : "",
  ]
  return (
    <section aria-label={t("Progress")} className="mt-6 flex flex-wrap items-center gap-x-6 gap-y-2">
      <div role="status" className="figures min-w-64 grow">
        <p>
          {paused && <span className="text-ochre">{t("Paused.")} </span>}
          {parts.filter(Boolean).join("; ")}.
        </p>
        <Bar done={done} of={all.length} label={plural(all.length, "of {n} document|of {n} documents")} />
      </div>
      {edits && (
        <Button onClick={() => pause.mutate(!paused)} disabled={pause.isPending}>
          {paused ? <Play aria-hidden className="size-4" /> : <Pause aria-hidden className="size-4" />}
          {paused ? t("Go on") : t("Pause")}
        </Button>
      )}
      {pause.isError && <Failure error={pause.error} />}
    </section>
  )
}
