import { useState } from "react"
import { CartesianGrid, ResponsiveContainer, Scatter, ScatterChart, Tooltip, XAxis, YAxis } from "recharts"

import { useTry } from "../../api/accuracy"
import type { Schemas } from "../../api/client"
import { Button } from "../../parts/button"
import { Failure } from "../../parts/notice"
import { number, t, when } from "../../words"
import { axis, inks, tooltip } from "../../parts/chart"
import { figureName } from "./figures"
import { setupWords } from "./setup-words"

type Sweep = Schemas["Sweep"]
type Tried = Schemas["Tried"]

// SweepResult shows what a sweep tried: what is gained for what time, and the table behind it.
export function SweepResult({ sweep: s, collection }: { sweep: Sweep; collection: string }) {
  const name = figureName(s.honest.name)
  const best = s.best >= 0 ? s.tried[s.best] : undefined
  return (
    <section className="mt-10 border-t border-line pt-5">
      <h2 className="text-xl">
        {s.plan.set}, {when(s.created)}
      </h2>
      <p className="figures mt-1 max-w-prose">
        {best
          ? t("Best: {setup}, with {value} against {live} of the live set-up (p = {p}).", { setup: setupWords(best.setup), value: best.figure.value.toFixed(3), live: s.live.figure.value.toFixed(3), p: s.p.toFixed(3) })
          : t("Nothing tried is better than the live set-up.")}{" "}
        {best && s.p >= 0.05 && t("That may be chance.")}{" "}
        {t("On questions about documents that the choice was not made by: {value} ({low} – {high}).", { value: s.honest.value.toFixed(3), low: s.honest.low.toFixed(3), high: s.honest.high.toFixed(3) })}
        {" "}
        {s.stopped > 0 && t("{n} given up early.", { n: s.stopped })} {s.skipped > 0 && t("{n} left out for lack of time.", { n: s.skipped })}
      </p>
      <TradeOff sweep={s} name={name} />
      <Table sweep={s} name={name} collection={collection} />
    </section>
  )
}

function TradeOff({ sweep: s, name }: { sweep: Sweep; name: string }) {
  const point = (one: Tried) => ({ x: one.p50_ms, y: one.figure.value, says: setupWords(one.setup) })
  const whole = s.tried.filter((one) => !one.stopped)
  return (
    <figure className="mt-3">
      <ResponsiveContainer width="100%" height={280}>
        <ScatterChart margin={{ top: 16, right: 24, left: 4, bottom: 22 }} accessibilityLayer={false}>
          <CartesianGrid stroke={inks.line} />
          <XAxis type="number" dataKey="x" {...axis} domain={["auto", "auto"]} tickFormatter={(v: number) => v.toFixed(0)} label={{ value: t("half of the answers within, ms"), position: "insideBottom", offset: -14, fill: inks.quiet, fontSize: 13 }} />
          <YAxis type="number" dataKey="y" {...axis} domain={["auto", "auto"]} width={48} tickFormatter={(v: number) => v.toFixed(2)} />
          <Tooltip {...tooltip} content={({ payload }) => <Said point={payload?.[0]?.payload as ReturnType<typeof point> | undefined} />} />
          <Scatter data={whole.filter((one) => !one.frontier).map(point)} fill={inks.quiet} fillOpacity={0.7} isAnimationActive={false} />
          <Scatter data={whole.filter((one) => one.frontier).map(point)} fill={inks.leaf} line={{ stroke: inks.leaf, strokeDasharray: "3 3" }} isAnimationActive={false} />
          <Scatter data={[point(s.live)]} fill={inks.ochre} shape="diamond" isAnimationActive={false} />
        </ScatterChart>
      </ResponsiveContainer>
      <figcaption className="text-sm text-quiet">
        <span className="first-letter:uppercase">{name}</span>; {t("green: nothing tried is both better and quicker; ochre: the live set-up.")}
      </figcaption>
    </figure>
  )
}

function Said({ point }: { point?: { x: number; y: number; says: string } }) {
  if (!point) return null
  return (
    <div className="figures max-w-64 rounded-md border border-line bg-sheet px-3 py-1.5 text-sm">
      {`${point.says}: ${point.y.toFixed(3)}, ${point.x.toFixed(0)} ms`}
    </div>
  )
}

function Table({ sweep: s, name, collection }: { sweep: Sweep; name: string; collection: string }) {
  const [all, setAll] = useState(false)
  const make = useTry(collection)
  const rows = all ? s.tried : s.tried.slice(0, 6)
  const row = (one: Tried, title: string, i?: number) => (
    <tr key={title} className="border-b border-line">
      <td className="py-1.5 pr-4 first-letter:uppercase">{title}</td>
      <td className="text-right">{one.figure.value.toFixed(3)}</td>
      <td className="whitespace-nowrap pl-4 text-right text-sm text-quiet">{one.stopped ? t("given up after {questions}", { questions: one.questions }) : `${one.figure.low.toFixed(3)} – ${one.figure.high.toFixed(3)}`}</td>
      <td className="pl-4 text-right">{one.p50_ms.toFixed(0)}</td>
      <td className="pl-4 text-right">{number(one.passages)}</td>
      <td className="whitespace-nowrap pl-4 text-right">
        {i !== undefined && !one.stopped && (
          <Button disabled={make.isPending} aria-label={t("Make a trial of {title}", { title })} onClick={() => make.mutate({ name: `${s.id.toLowerCase()}-${i + 1}`, setup: one.setup })}>
            {t("Make a trial")}
          </Button>
        )}
      </td>
    </tr>
  )
  return (
    <div className="mt-4 overflow-x-auto">
      {make.isError && <Failure error={make.error} />}
      <table className="figures w-full border-collapse text-left">
        <thead className="text-sm text-quiet">
          <tr className="border-b border-line">
            <th className="py-1.5 font-normal">{t("Set-up")}</th>
            <th className="pl-4 text-right font-normal">{name}</th>
            <th className="whitespace-nowrap pl-4 text-right font-normal">{t("95 % interval")}</th>
            <th className="pl-4 text-right font-normal">{t("ms")}</th>
            <th className="pl-4 text-right font-normal">{t("Passages")}</th>
            <th>
              <span className="sr-only">{t("Make a trial")}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {row(s.live, t("Live: {setup}", { setup: setupWords(s.live.setup) }))}
          {rows.map((one, i) => row(one, setupWords(one.setup), i))}
        </tbody>
      </table>
      {s.tried.length > 6 && !all && (
        <Button className="mt-3" onClick={() => setAll(true)}>
          {t("Show all {tried}", { tried: s.tried.length })}
        </Button>
      )}
    </div>
  )
}
