import { useState } from "react"
import { CartesianGrid, ErrorBar, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts"

import type { Measurement } from "../../api/client"
import { Choose } from "../../parts/choose"
import { day, t, when } from "../../words"
import { figureName } from "./figures"
import { axis, inks, tooltip } from "../../parts/chart"

const first = "right, page cited"
const figures = [first, "wrong of those given", "refusals right", "refusals wrong", "page recall@5"]

// Trend draws a figure of the live set-up over the measurements with one question set.
export function Trend({ all }: { all: Measurement[] }) {
  const [name, setName] = useState(first)
  const set = all[0]?.question_set.name
  const points = all
    .filter((m) => m.question_set.name === set && (m.subject.setup || "live") === "live")
    .flatMap((m) => m.figures.filter((f) => f.name === name).map((f) => ({ when: m.created, value: f.value, bar: [f.value - f.low, f.high - f.value] })))
    .reverse()
  if (points.length < 2) return null
  return (
    <figure>
      <figcaption className="flex flex-wrap items-baseline gap-3">
        <span>{t("The live set-up, measured with {set}:", { set })}</span>
        <Choose quiet label={t("Figure")} value={name} onChange={setName} of={figures.map((f) => [f, figureName(f)])} />
      </figcaption>
      <ResponsiveContainer width="100%" height={190}>
        <LineChart data={points} margin={{ top: 12, right: 24, left: 0, bottom: 0 }} accessibilityLayer={false}>
          <CartesianGrid stroke={inks.line} vertical={false} />
          <XAxis dataKey="when" {...axis} padding={{ left: 40, right: 40 }} tickFormatter={(w: string) => day(w)} />
          <YAxis domain={[0, 1]} {...axis} width={36} />
          <Tooltip {...tooltip} labelFormatter={(w) => when(String(w))} formatter={(v) => [Number(v).toFixed(3), figureName(name)]} />
          <Line dataKey="value" stroke={inks.leaf} strokeWidth={2} dot={{ r: 4, fill: inks.leaf }} isAnimationActive={false}>
            <ErrorBar dataKey="bar" stroke={inks.leaf} strokeOpacity={0.5} strokeWidth={2} width={8} isAnimationActive={false} />
          </Line>
        </LineChart>
      </ResponsiveContainer>
    </figure>
  )
}
