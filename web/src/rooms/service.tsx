import { useState } from "react"
import { Link } from "react-router"

import { saveBackup, useRun } from "../api/service"
import { Bar } from "../parts/bar"
import { Button } from "../parts/button"
import { Failure } from "../parts/notice"
import { t } from "../words"

// Service is where an administrator keeps the whole safe: a backup, and a check of all that is kept.
export default function Service() {
  return (
    <div className="max-w-3xl space-y-10">
      <h1 className="text-3xl">{t("Service")}</h1>
      <section>
        <h2 className="text-xl">{t("Hosts")}</h2>
        <p className="mt-2 max-w-prose text-quiet">
          {t("One machine does for most. Several share the work and go on when one is lost.")}{" "}
          <Link to="/hosts" className="text-leaf underline underline-offset-4">
            {t("See the hosts")}
          </Link>
        </p>
      </section>
      <Backup />
      <Check />
      <section>
        <h2 className="text-xl">{t("For programs")}</h2>
        <p className="mt-2 flex flex-wrap gap-x-6">
          <a href="/api/v1/openapi.yaml" className="text-leaf underline underline-offset-4">
            {t("The description of the API")}
          </a>
          <a href="/metrics" className="text-leaf underline underline-offset-4">
            {t("Metrics")}
          </a>
          <Link to="/people" className="text-leaf underline underline-offset-4">
            {t("Keys")}
          </Link>
        </p>
      </section>
    </div>
  )
}

function Backup() {
  const [state, setState] = useState<"" | "running" | "done">("")
  const [error, setError] = useState<Error>()
  const start = async () => {
    setState("running")
    setError(undefined)
    try {
      await saveBackup()
      setState("done")
    } catch (problem) {
      setState("")
      if (!(problem instanceof DOMException)) setError(problem as Error) // one that was called off is no failure
    }
  }
  return (
    <section>
      <h2 className="text-xl">{t("Backup")}</h2>
      <p className="mt-2 max-w-prose text-quiet">
        {t("All collections, documents, settings and people in one file, taken while the service goes on. On the command line, jardinet backup --since leaves out what an earlier backup holds.")}
      </p>
      <div className="mt-3 flex flex-wrap items-center gap-4">
        <Button disabled={state === "running"} onClick={() => void start()}>
          {t("Save a backup")}
        </Button>
        <span role="status" className="text-quiet">
          {state === "running" && t("Being written…")}
          {state === "done" && t("The backup was saved. Put it where this machine cannot lose it.")}
        </span>
      </div>
      {error && <Failure error={error} />}
    </section>
  )
}

type Damage = { collection: string; document: string; what: string; mended: boolean }

function Check() {
  const { run, start } = useRun<{ damages: Damage[] }>("/check?mend=true", "checked")
  return (
    <section>
      <h2 className="text-xl">{t("Check")}</h2>
      <p className="mt-2 max-w-prose text-quiet">{t("Everything that is kept is read and held to its checksums. What can be made anew from what is whole is made anew.")}</p>
      <div className="mt-3 space-y-2" role="status">
        <Button disabled={run?.running} onClick={start}>
          {t("Check all that is kept")}
        </Button>
        {run?.running && <Bar done={run.done} of={run.all} label={t("checked")} />}
        {run?.result?.damages.length === 0 && <p className="text-leaf">{t("All of it is whole.")}</p>}
        {run?.result?.damages.map((d, i) => (
          <p key={i} className={d.mended ? "text-ochre" : "text-brick"}>
            {[d.collection, d.document, d.what].filter(Boolean).join(": ")} {d.mended ? t("(mended)") : t("(not mended: add the document again, or put a backup in place)")}
          </p>
        ))}
      </div>
      {run?.problem && <Failure error={run.problem} />}
    </section>
  )
}
