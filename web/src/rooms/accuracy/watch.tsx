import { type FormEvent, useState } from "react"
import { Link } from "react-router"

import { useSets, useSetWatch, useWatch } from "../../api/accuracy"
import type { Schemas } from "../../api/client"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { field } from "../../parts/field"
import { Failure } from "../../parts/notice"
import { t, when } from "../../words"

// AfterChanges says what the collection is measured with after each change of its documents.
export function AfterChanges({ collection }: { collection: string }) {
  const watch = useWatch(collection)
  if (!watch.data) return null
  return (
    <section>
      <h2 className="text-xl">{t("After each change")}</h2>
      <Form key={JSON.stringify(watch.data)} collection={collection} watch={watch.data} />
      {watch.data.alerts?.map((a) => (
        <div key={a.measurement} className="mt-3 border-l-4 border-brick pl-3">
          <Link to={`/c/${collection}/accuracy/${a.measurement}`} className="text-leaf underline underline-offset-4">
            {when(a.at)}
          </Link>
          <ul>
            {a.reasons.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  )
}

function Form({ collection, watch }: { collection: string; watch: Schemas["Watch"] }) {
  const sets = useSets(collection)
  const save = useSetWatch(collection)
  const [set, setSet] = useState(watch.off ? "" : watch.set)
  const [require, setRequire] = useState((watch.require ?? []).join("\n"))
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const lines = require.split("\n").map((l) => l.trim()).filter(Boolean)
    save.mutate({ set: set || watch.set, off: set === "", require: lines, webhook: watch.webhook })
  }
  return (
    <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-4">
      <Choose label={t("Measure with")} value={set} onChange={setSet} of={[["", t("nothing")], ...(sets.data ?? []).map((s) => [s.name, s.name] as const)]} />
      <label className="grow">
        {t("Required, one a line")}
        <textarea rows={2} value={require} onChange={(e) => setRequire(e.target.value)} placeholder="right_page_cited>=0.6" className={`${field} figures mt-1 block w-full max-w-md`} />
      </label>
      <Button type="submit" disabled={save.isPending}>
        {t("Save")}
      </Button>
      {save.isError && <Failure error={save.error} />}
    </form>
  )
}
