import { Bar, BarChart, CartesianGrid, LabelList, Line, LineChart, ReferenceLine, ResponsiveContainer, Scatter, ScatterChart, Tooltip, XAxis, YAxis, ZAxis } from "recharts"

import type { Schemas } from "../../api/client"
import { causes } from "./causes"
import { axis, inks, tooltip } from "../../parts/chart"
import { t } from "../../words"

// Causes draws how many questions were lost at each place on the way from the page to the answer.
export function Causes({ causes: counts }: { causes: { [cause: string]: number } }) {
  const rows = causes.filter(([code]) => counts[code]).map(([code, name, advice]) => ({ name, advice, count: counts[code] ?? 0 }))
  if (rows.length === 0) return null
  return (
    <section className="mt-10">
      <h2 className="text-xl">{t("Where questions were lost")}</h2>
      <div className="mt-3 grid items-start gap-x-8 gap-y-4 lg:grid-cols-[minmax(0,5fr)_minmax(0,4fr)]">
        <ResponsiveContainer width="100%" height={44 * rows.length + 12}>
          <BarChart data={rows} layout="vertical" margin={{ left: 8, right: 36, top: 4, bottom: 4 }} accessibilityLayer={false}>
            <XAxis type="number" hide />
            <YAxis type="category" dataKey="name" width={172} {...axis} axisLine={false} tick={{ fill: "var(--ink)", fontSize: 15 }} />
            <Bar dataKey="count" fill={inks.ochre} barSize={20} radius={[0, 3, 3, 0]} isAnimationActive={false}>
              <LabelList dataKey="count" position="right" fill="var(--ink)" fontSize={15} />
            </Bar>
          </BarChart>
        </ResponsiveContainer>
        <dl className="text-sm">
          {rows.map((r) => (
            <div key={r.name} className="flex h-11 flex-col justify-center">
              <dt className="sr-only">
                {r.name}: {r.count}
              </dt>
              <dd className="leading-snug text-quiet">{r.advice}</dd>
            </div>
          ))}
        </dl>
      </div>
    </section>
  )
}

type Calibration = Schemas["Calibration"]

// RiskCurve draws what a higher threshold would bring.
export function RiskCurve({ c }: { c: Calibration }) {
  return (
    <figure>
      <h2 className="text-xl">{t("If only the surest were given")}</h2>
      <ResponsiveContainer width="100%" height={260}>
        <LineChart data={c.risk} margin={{ top: 16, right: 16, left: 0, bottom: 20 }} accessibilityLayer={false}>
          <CartesianGrid stroke={inks.line} />
          <XAxis type="number" dataKey="coverage" domain={[0, 1]} {...axis} label={{ value: t("share of questions answered"), position: "insideBottom", offset: -12, fill: inks.quiet, fontSize: 13 }} />
          <YAxis domain={[0, "auto"]} {...axis} width={44} tickFormatter={(v: number) => v.toFixed(2)} />
          <Tooltip {...tooltip} labelFormatter={(v) => t("{n} % of questions answered", { n: (100 * Number(v)).toFixed(0) })} formatter={(v, _n, p) => [t("{risk}, from a confidence of {n}", { risk: Number(v).toFixed(3), n: (p.payload as { confidence: number }).confidence.toFixed(2) }), t("wrong")]} />
          <Line dataKey="risk" stroke={inks.leaf} strokeWidth={2} dot={false} isAnimationActive={false} />
        </LineChart>
      </ResponsiveContainer>
      <figcaption className="figures text-sm text-quiet">{t("Share of the answers that would be wrong; the mean over the curve is {aurc}.", { aurc: c.aurc.toFixed(3) })}</figcaption>
    </figure>
  )
}

// Reliability draws whether the confidence can be believed.
export function Reliability({ c }: { c: Calibration }) {
  return (
    <figure>
      <h2 className="text-xl">{t("Can the confidence be believed?")}</h2>
      <ResponsiveContainer width="100%" height={260}>
        <ScatterChart margin={{ top: 16, right: 16, left: 0, bottom: 20 }} accessibilityLayer={false}>
          <CartesianGrid stroke={inks.line} />
          <XAxis type="number" dataKey="confidence" domain={[0, 1]} {...axis} label={{ value: t("confidence"), position: "insideBottom", offset: -12, fill: inks.quiet, fontSize: 13 }} />
          <YAxis type="number" dataKey="right" domain={[0, 1]} {...axis} width={44} />
          <ZAxis type="number" dataKey="answers" range={[40, 420]} name={t("answers")} />
          <ReferenceLine segment={[{ x: 0, y: 0 }, { x: 1, y: 1 }]} stroke={inks.quiet} strokeDasharray="4 4" />
          <Tooltip {...tooltip} formatter={(v, name) => [Number(v).toFixed(name === t("answers") ? 0 : 3), name]} />
          <Scatter data={c.bins} fill={inks.leaf} fillOpacity={0.8} isAnimationActive={false} />
        </ScatterChart>
      </ResponsiveContainer>
      <figcaption className="figures text-sm text-quiet">
        {t("Share that is right by confidence, the larger the more answers; Brier score {brier}, calibration error {ece}.", { brier: c.brier.toFixed(3), ece: c.ece.toFixed(3) })}
      </figcaption>
    </figure>
  )
}
