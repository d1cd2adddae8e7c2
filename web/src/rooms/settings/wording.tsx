import { type FormEvent, useState } from "react"

import type { Schemas } from "../../api/client"
import { useSetStyle } from "../../api/queries"
import { Button } from "../../parts/button"
import { field } from "../../parts/field"
import { Failure } from "../../parts/notice"
import { t } from "../../words"

// Wording is who puts answers into words: the program, or an outside model.
export function Wording({ collection, now }: { collection: string; now: Schemas["Style"] }) {
  const set = useSetStyle(collection)
  const [url, setURL] = useState(now.model?.url ?? "")
  const [model, setModel] = useState(now.model?.model ?? "")
  const [key, setKey] = useState(now.model?.key ?? "")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    set.mutate({ ...now, model: { ...now.model, url: url.trim(), model: model.trim(), key: key.trim() || undefined } })
  }
  return (
    <details className="mt-8" open={now.model !== undefined}>
      <summary className="w-fit cursor-pointer">
        {now.model ? t("Answers are worded by {model} at {url}.", { model: now.model.model, url: now.model.url }) : t("Answers are worded by the program itself, in the documents’ own words.")}
      </summary>
      <form onSubmit={submit} className="mt-4 space-y-4 border-l-2 border-line pl-4">
        <p className="text-quiet">{t("An outside model sees the evidence of each question. What it says is held to that evidence, sentence by sentence.")}</p>
        <label className="block">
          {t("Address of its chat completions")}
          <input type="url" value={url} onChange={(e) => setURL(e.target.value)} placeholder="http://127.0.0.1:7490/v1" className={`${field} mt-1 block w-full`} />
        </label>
        <label className="block">
          {t("Name of the model")}
          <input value={model} onChange={(e) => setModel(e.target.value)} className={`${field} mt-1 block w-full`} />
        </label>
        <label className="block">
          {t("Name of the secret that is its key")}
          <input value={key} onChange={(e) => setKey(e.target.value)} className={`${field} mt-1 block w-full`} />
        </label>
        <div className="flex gap-3">
          <Button kind="main" type="submit" disabled={!url.trim() || !model.trim() || set.isPending}>
            {t("Let it word the answers")}
          </Button>
          {now.model && (
            <Button onClick={() => set.mutate({ ...now, model: undefined })} disabled={set.isPending}>
              {t("Stop using it")}
            </Button>
          )}
        </div>
        {set.isError && <Failure error={set.error} />}
      </form>
    </details>
  )
}
