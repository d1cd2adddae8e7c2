import { RadioGroup } from "radix-ui"

import { t } from "../../words"

export type View = "blocks" | "passages" | "nothing"

const views: [View, string][] = [
  ["blocks", t("Blocks in reading order")],
  ["passages", t("Passages")],
  ["nothing", t("The page alone")],
]

// Views chooses what is drawn on the page.
export function Views({ view, onView }: { view: View; onView: (v: View) => void }) {
  return (
    <RadioGroup.Root value={view} onValueChange={(v) => onView(v as View)} aria-label={t("Drawn on the page")} className="mb-3 flex flex-wrap gap-x-4 gap-y-1 text-sm">
      {views.map(([v, name]) => (
        <label key={v} className="inline-flex items-center gap-1.5">
          <RadioGroup.Item value={v} aria-label={name} className="flex size-4 items-center justify-center rounded-full border border-quiet bg-sheet">
            <RadioGroup.Indicator className="size-2 rounded-full bg-leaf" />
          </RadioGroup.Item>
          {name}
        </label>
      ))}
    </RadioGroup.Root>
  )
}
