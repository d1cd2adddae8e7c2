import type { Schemas } from "../../api/client"
import { t } from "../../words"

type Explained = NonNullable<Schemas["Found"]["explain"]>

const inks = ["#2a6539", "#8a5a0b", "#2f5d8a", "#8a3f6b", "#1f807a", "#b07414", "#5f5f5f", "#9c3322"]

// ScoreParts draws what each part gave to a passage's score, as long as the score is to the best one's.
export function ScoreParts({ explain, score, best }: { explain: Explained; score: number; best: number }) {
  const weights = explain.weights as { [name: string]: number }
  const parts = Object.entries(explain.features as { [name: string]: number })
    .map(([name, value], i) => ({ name, gave: value * (weights[name] ?? 0), ink: inks[i % inks.length] }))
    .filter((p) => Math.abs(p.gave) >= 0.05)
  const whole = parts.reduce((sum, p) => sum + Math.max(0, p.gave), 0) || 1
  return (
    <details className="mt-1.5 px-2 text-sm">
      <summary className="cursor-pointer text-quiet">
        <span className="figures">{t("score {score}", { score: score.toFixed(2) })}</span>
        <span className="ml-3 inline-flex h-2 w-48 overflow-hidden rounded align-middle" aria-hidden>
          {parts.map((p) => (
            <span key={p.name} style={{ background: p.ink, width: `${(100 * Math.max(0, p.gave) * Math.max(0, score)) / whole / Math.max(best, 0.01)}%` }} />
          ))}
        </span>
      </summary>
      <dl className="figures mt-1 flex flex-wrap gap-x-5 gap-y-0.5">
        {parts.map((p) => (
          <div key={p.name} className="flex items-baseline gap-1.5">
            <dt className="flex items-baseline gap-1.5 text-quiet">
              <span aria-hidden className="inline-block size-2.5 rounded-sm" style={{ background: p.ink }} />
              {p.name}
            </dt>
            <dd>
              {p.gave > 0 ? "+" : ""}
              {p.gave.toFixed(2)}
            </dd>
          </div>
        ))}
      </dl>
    </details>
  )
}
