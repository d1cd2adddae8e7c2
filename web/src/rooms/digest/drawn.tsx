import { useState } from "react"
import { Bar, BarChart, CartesianGrid, Line, LineChart, ResponsiveContainer, Scatter, ScatterChart, Tooltip, XAxis, YAxis } from "recharts"

import type { Table } from "../../api/digest"
import { axis, inks, tooltip } from "../../parts/chart"
import { Choose } from "../../parts/choose"
import { t } from "../../words"

type Rows = NonNullable<Table["rows"]>

// Drawn is a table's numbers as bars, a line or points.
export function Drawn({ table, rows }: { table: Table; rows: Rows }) {
  const numbers = table.columns.flatMap((c, i) => (c.kind === "number" ? [i] : []))
  const first = Math.max(0, table.columns.findIndex((c) => c.kind !== "number"))
  const [column, setColumn] = useState(numbers[0] ?? -1)
  const [over, setOver] = useState(first)
  const [kind, setKind] = useState<string>(table.columns[first]?.kind === "year" ? "line" : "bars")
  if (column < 0) return null
  const named = (i: number) => table.columns[i]?.name || t("Column {number}", { number: i + 1 })
  const data = rows.filter((row) => row[column]?.number !== undefined).map((row) => ({ x: kind === "points" ? (row[over]?.number ?? row[over]?.text) : row[over]?.text, y: row[column]?.number }))
  const unit = table.columns[column]?.unit
  const shared = { data, margin: { top: 8, right: 8, left: 0, bottom: 4 }, accessibilityLayer: false }
  const inside = (
    <>
      <CartesianGrid stroke={inks.line} vertical={false} />
      <XAxis dataKey="x" {...axis} {...(kind !== "points" && crowded(data) ? slanted : {})} type={kind === "points" && typeof data[0]?.x === "number" ? "number" : "category"} domain={["auto", "auto"]} />
      <YAxis dataKey="y" {...axis} width={80} label={{ value: unit ? `${named(column)} (${unit})` : named(column), angle: -90, position: "insideLeft", style: { textAnchor: "middle", fill: inks.quiet } }} />
      <Tooltip {...tooltip} formatter={(v) => [String(v), named(column)]} />
    </>
  )
  return (
    <figure aria-label={t("{column} over {over}", { column: named(column), over: named(over) })}>
      <div className="mb-2 flex flex-wrap gap-3">
        <Choose quiet label={t("What is drawn")} value={String(column)} onChange={(v) => setColumn(Number(v))} of={numbers.map((i) => [String(i), named(i)])} />
        <Choose quiet label={t("Over what")} value={String(over)} onChange={(v) => setOver(Number(v))} of={table.columns.map((_, i) => [String(i), named(i)])} />
        <Choose quiet label={t("How it is drawn")} value={kind} onChange={setKind} of={[["bars", t("Bars")], ["line", t("Line")], ["points", t("Points")]]} />
      </div>
      <ResponsiveContainer width="100%" height={300}>
        {kind === "bars" ? (
          <BarChart {...shared}>
            {inside}
            <Bar dataKey="y" fill={inks.leaf} radius={[3, 3, 0, 0]} maxBarSize={44} isAnimationActive={false} />
          </BarChart>
        ) : kind === "line" ? (
          <LineChart {...shared}>
            {inside}
            <Line dataKey="y" stroke={inks.leaf} strokeWidth={2} isAnimationActive={false} />
          </LineChart>
        ) : (
          <ScatterChart {...shared}>
            {inside}
            <Scatter fill={inks.leaf} isAnimationActive={false} />
          </ScatterChart>
        )}
      </ResponsiveContainer>
    </figure>
  )
}

// slanted lets each name be read where there is no room for all side by side.
const slanted = { interval: 0, angle: -35, textAnchor: "end", height: 84, tickFormatter: shortened } as const

// shortened leaves a long name its beginning and its end, by which names differ.
function shortened(name: unknown): string {
  const whole = String(name)
  return whole.length > 19 ? `${whole.slice(0, 9)}…${whole.slice(-9)}` : whole
}

function crowded(data: { x?: string | number }[]): boolean {
  const names = data.map((d) => String(d.x ?? ""))
  return names.length <= 24 && names.reduce((sum, name) => sum + name.length + 2, 0) > 72
}
