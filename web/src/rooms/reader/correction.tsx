import { useState } from "react"

import type { Block, Corrections, Edit } from "../../api/client"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { kinds } from "../../parts/kinds"
import { t } from "../../words"

type Props = { block: Block; place: number; of: number; corrections: Corrections; busy: boolean; onSave: (c: Corrections) => void; onClose: () => void }

const field = "w-full rounded border border-line bg-sheet px-2 py-1.5"

// Correction is the form in which a person says what a block really is.
export function Correction({ block, place, of, corrections, busy, onSave, onClose }: Props) {
  const [kind, setKind] = useState(block.kind)
  const [text, setText] = useState(block.text)
  const [to, setTo] = useState(place)
  const others = corrections.edits.filter((e) => e.was !== block.was)
  const before = corrections.edits.find((e) => e.was === block.was)
  const save = (edit: Edit) => onSave({ ...corrections, edits: [...others, edit] })
  const changed: Edit = {
    ...before,
    was: block.was,
    ...(kind !== block.kind && { kind }),
    ...(text !== block.text && { text }),
    ...(to !== place && { to }),
  }
  return (
    <form
      className="mt-2 space-y-3 rounded-md border border-line bg-sheet p-4"
      aria-label={t("Correct block {place}", { place })}
      onSubmit={(e) => {
        e.preventDefault()
        save(changed)
      }}
    >
      <div className="flex flex-wrap gap-4">
        <Choose label={t("Kind")} value={kind} onChange={(k) => setKind(k as Block["kind"])} className="w-48" of={Object.entries(kinds).map(([value, { name }]) => [value, name])} />
        <label className="w-36">
          <span className="mb-1 block text-sm text-quiet">{t("Place of {of}", { of })}</span>
          <input className={`${field} figures`} type="number" min={1} max={of} value={to} onChange={(e) => setTo(Number(e.target.value))} />
        </label>
      </div>
      <label className="block">
        <span className="mb-1 block text-sm text-quiet">{kind === "table" ? t("Text: one row a line, cells separated by |") : t("Text")}</span>
        <textarea className={field} rows={Math.min(10, 2 + Math.ceil(text.length / 60))} value={text} onChange={(e) => setText(e.target.value)} />
      </label>
      <div className="flex flex-wrap gap-3">
        <Button kind="main" type="submit" disabled={busy}>
          {t("Save the correction")}
        </Button>
        <Button kind="danger" disabled={busy} onClick={() => save({ was: block.was, drop: true })}>
          {t("Leave this block out")}
        </Button>
        {before && (
          <Button disabled={busy} onClick={() => onSave({ ...corrections, edits: others })}>
            {t("Undo the correction")}
          </Button>
        )}
        <Button onClick={onClose}>{t("Close")}</Button>
      </div>
    </form>
  )
}
