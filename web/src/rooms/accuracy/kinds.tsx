import { useState } from "react"

import type { Measurement } from "../../api/client"
import { t } from "../../words"
import { figureName } from "./figures"

const shown = ["page recall@5", "short answer right", "right, page cited", "refusals right", "refusals wrong"]

// Kinds sets the figures side by side for each kind of question, or each document.
export function Kinds({ m }: { m: Measurement }) {
  const [by, setBy] = useState<"kind" | "document">("kind")
  const groups = Object.entries((by === "kind" ? m.by_tag : m.by_document) ?? {}).sort(([a], [b]) => a.localeCompare(b))
  return (
    <section className="mt-10">
      <div className="flex flex-wrap items-baseline gap-4">
        <h2 className="text-xl">{by === "kind" ? t("By kind") : t("By document")}</h2>
        <fieldset className="flex gap-4 text-sm">
          <legend className="sr-only">{t("Group by")}</legend>
          {(["kind", "document"] as const).map((b) => (
            <label key={b} className="inline-flex items-center gap-1.5">
              <input type="radio" name="by" className="accent-leaf" checked={by === b} onChange={() => setBy(b)} />
              {b === "kind" ? t("Kind of question") : t("Document")}
            </label>
          ))}
        </fieldset>
      </div>
      <div className="mt-3 max-h-96 overflow-auto" data-scrolls tabIndex={0} role="region" aria-label={by === "kind" ? t("Figures by kind") : t("Figures by document")}>
        <table className="figures w-full max-w-5xl border-collapse text-left">
          <thead className="text-sm text-quiet">
            <tr className="border-b border-line">
              <th className="py-1.5 font-normal">{by === "kind" ? t("Kind") : t("Document")}</th>
              <th className="text-right font-normal">{t("Questions")}</th>
              {shown.map((name) => (
                <th key={name} className="pl-4 text-right font-normal">
                  {figureName(name)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {groups.map(([name, figures]) => (
              <tr key={name} className="border-b border-line">
                <th scope="row" className="py-1.5 font-normal">
                  {name}
                </th>
                <td className="text-right">{Math.max(...figures.map((f) => f.questions))}</td>
                {shown.map((s) => (
                  <td key={s} className="text-right">
                    {figures.find((f) => f.name === s)?.value.toFixed(2) ?? "–"}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}
