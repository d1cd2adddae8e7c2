import { useState } from "react"

import { useCancelJob, useJobs } from "../../api/accuracy"
import type { Job } from "../../api/client"
import { Button } from "../../parts/button"
import { lasting, t } from "../../words"

const failed = (j: Job) => j.state === "failed"

// Jobs tells how far what was started is, and of what has failed since.
export function Jobs({ collection }: { collection: string }) {
  const jobs = useJobs(collection)
  const cancel = useCancelJob(collection)
  const [seen, setSeen] = useState<string[]>([])
  const shown = (jobs.data ?? []).filter((j) => j.state === "running" || j.state === "waiting" || (failed(j) && !seen.includes(j.id)))
  if (shown.length === 0) return null
  return (
    <ul aria-label={t("Under way")} className="mb-6 space-y-2">
      {shown.map((j) => (
        <li key={j.id} className={`flex flex-wrap items-center gap-x-4 gap-y-1 rounded-md border px-4 py-2 ${failed(j) ? "border-brick text-brick" : "border-line bg-sheet"}`}>
          <span className="first-letter:uppercase" role="status">
            {j.what}
            {j.state === "waiting" && ` ${t("waits for its turn")}`}
            {failed(j) && `: ${j.problem}`}
          </span>
          {j.state === "running" && j.of > 0 && (
            <>
              <progress value={j.done} max={j.of} aria-label={j.what} className="h-2 w-48 accent-leaf" />
              <span className="figures text-sm text-quiet">
                {t("{done} of {of}", { done: j.done, of: j.of })}
                {j.left !== undefined && j.left > 1 && `, ${t("about {time} left", { time: lasting(j.left) })}`}
              </span>
            </>
          )}
          <span className="ml-auto">
            {failed(j) ? <Button onClick={() => setSeen([...seen, j.id])}>{t("Dismiss")}</Button> : <Button onClick={() => cancel.mutate(j.id)}>{t("Cancel")}</Button>}
          </span>
        </li>
      ))}
    </ul>
  )
}
