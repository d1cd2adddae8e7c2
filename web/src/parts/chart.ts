// What all charts have in common.
export const inks = { leaf: "var(--leaf)", ochre: "var(--ochre)", quiet: "var(--quiet)", line: "var(--line)", brick: "var(--brick)" }

export const axis = { stroke: inks.quiet, tick: { fill: inks.quiet, fontSize: 13 }, tickLine: false }

export const tooltip = {
  contentStyle: { background: "var(--sheet)", border: "1px solid var(--line)", borderRadius: 6, color: "var(--ink)" },
  itemStyle: { color: "var(--ink)" },
  cursor: { fill: "var(--ochre-wash)", fillOpacity: 0.4 },
  isAnimationActive: false,
}
