import { useState } from "react"

import type { Asked, Schemas } from "../../api/client"
import { useTrace } from "../../api/queries"
import { Failure, Waiting } from "../../parts/notice"
import { t } from "../../words"

type Props = { collection: string; asked: Asked }

// Trace tells how an answer came about. The question is asked again for it, when
// somebody wants to know.
export function Trace(props: Props) {
  const [open, setOpen] = useState(false)
  return (
    <details className="mt-4 text-sm" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="w-fit cursor-pointer text-quiet hover:text-ink">{t("How this came about")}</summary>
      {open && <Loaded {...props} />}
    </details>
  )
}

function Loaded({ collection, asked }: Props) {
  const traced = useTrace(collection, asked)
  if (traced.isPending) return <Waiting what={t("Asking again, with notes…")} />
  if (traced.isError) return <Failure error={traced.error} />
  const traces = [traced.data.trace, ...(traced.data.parts ?? []).map((p) => p.trace)].filter((one) => one !== undefined)
  return (
    <div className="figures mt-3 space-y-4 border-l-2 border-line pl-4">
      {traces.map((trace, i) => (
        <div key={i} className="space-y-4">
          {traces.length > 1 && <p className="font-medium">{trace.standalone}</p>}
          <Understood trace={trace} />
          {trace.lessons.length > 0 && <Lessons trace={trace} />}
          <Evidence trace={trace} />
          {trace.model && <Model model={trace.model} />}
        </div>
      ))}
      <p>
        {t("Confidence {confidence}; answered from {from} on. It took {total} ms.", { confidence: traced.data.confidence.toFixed(2), from: traces[0]?.from.toFixed(2), total: traced.data.timing_ms.total.toFixed(0) })}
      </p>
    </div>
  )
}

type Traced = Schemas["Trace"]

function Understood({ trace }: { trace: Traced }) {
  return (
    <div>
      <h3 className="font-semibold">{t("What was looked for")}</h3>
      <ul className="mt-1 space-y-0.5">
        {trace.terms.map((one) => (
          <li key={one.word}>
            <span className="font-medium">{one.word}</span> <span className="text-quiet">{t("in {passages} passages", { passages: one.passages })}</span>
            {one.like.length > 0 && <span className="text-quiet">{t(", or {like}", { like: one.like.join(", ") })}</span>}
          </li>
        ))}
        {trace.corrected.map((c) => (
          <li key={c.word} className="text-ochre">
            {t("{word} was taken for a misspelling of {form}…", { word: c.word, form: c.form })}
          </li>
        ))}
      </ul>
    </div>
  )
}

function Lessons({ trace }: { trace: Traced }) {
  return (
    <div>
      <h3 className="font-semibold">{t("Lessons that mean the same")}</h3>
      <ul className="mt-1 space-y-0.5">
        {trace.lessons.slice(0, 4).map((l) => (
          <li key={l.question} className="flex gap-3">
            <span className="w-10 shrink-0 text-right text-quiet">{l.alike.toFixed(2)}</span>
            {l.question}
          </li>
        ))}
      </ul>
    </div>
  )
}

function Evidence({ trace }: { trace: Traced }) {
  return (
    <div>
      <h3 className="font-semibold">{t("What was read")}</h3>
      <ol className="mt-1 space-y-1">
        {trace.findings.slice(0, 6).map((f, i) => (
          <li key={i} className="flex gap-3">
            <span className="w-10 shrink-0 text-right text-quiet">{f.score.toFixed(1)}</span>
            <span>
              {f.text.length > 160 ? f.text.slice(0, 160) + "…" : f.text}{" "}
              <span className="text-quiet">
                {t("({document}, page {page}; answers {relevance}, proves {evidence}, in these words {sure})", { document: f.document, page: f.page, relevance: f.relevance.toFixed(1), evidence: f.evidence.toFixed(2), sure: f.sure.toFixed(2) })}
              </span>
            </span>
          </li>
        ))}
      </ol>
    </div>
  )
}

function Model({ model }: { model: NonNullable<Traced["model"]> }) {
  return (
    <div>
      <h3 className="font-semibold">
        {t("What {model} said", { model: model.model })}{" "}<span className="font-normal text-quiet">{t("({prompt_tokens} and {completion_tokens} tokens)", { prompt_tokens: model.usage.prompt_tokens ?? 0, completion_tokens: model.usage.completion_tokens ?? 0 })}</span>
      </h3>
      <p className="mt-1">{model.said}</p>
      {model.dropped.map((d) => (
        <p key={d} className="text-brick">{t("Not supported: {sentence}", { sentence: d })}</p>
      ))}
      {model.error && <p className="text-brick">{model.error}</p>}
    </div>
  )
}
