import { Dialog } from "radix-ui"
import { useEffect, useRef, useState, useSyncExternalStore } from "react"

import { t } from "../words"
import { Sheet } from "./sheet"

// A Key does something in the view that is shown. What it does is listed when "?" is pressed.
type Listed = { key: string; does: string }
type Key = Listed & { run: () => void }

let bound: Listed[] = []
const listeners = new Set<() => void>()

function set(next: Listed[]) {
  bound = next
  listeners.forEach((l) => l())
}

const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

// typing tells whether a key belongs to a field that is written in, or to a control.
function typing(event: KeyboardEvent) {
  const at = event.target as HTMLElement
  return event.ctrlKey || event.metaKey || event.altKey || at.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(at.tagName) || at.closest("[role=dialog],[role=listbox],[role=menu],[role=tablist]") !== null
}

// useKeys has keys do something as long as the view is shown.
export function useKeys(keys: Key[]) {
  const now = useRef(keys)
  useEffect(() => {
    now.current = keys
  })
  const listed = JSON.stringify(keys.map(({ key, does }) => ({ key, does })))
  useEffect(() => {
    const mine = JSON.parse(listed) as Listed[]
    set([...bound, ...mine])
    return () => set(bound.filter((k) => !mine.includes(k)))
  }, [listed])
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const hit = now.current.find((k) => k.key === event.key)
      if (!hit || typing(event)) return
      event.preventDefault()
      hit.run()
    }
    window.addEventListener("keydown", press)
    return () => window.removeEventListener("keydown", press)
  }, [])
}

const names: Record<string, string> = { ArrowLeft: "←", ArrowRight: "→", ArrowUp: "↑", ArrowDown: "↓", Escape: "Esc" }

// Keys is the list of what keys do in this view.
export function Keys() {
  const [open, setOpen] = useState(false)
  const all = useSyncExternalStore(subscribe, () => bound)
  useKeys([{ key: "?", does: t("Show these keys"), run: () => setOpen(true) }])
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger aria-label={t("Keys")} className="rounded px-1.5 text-quiet hover:text-ink">
        ?
      </Dialog.Trigger>
      <Sheet title={t("Keys in this view")}>
        <dl className="grid grid-cols-[auto_1fr] items-baseline gap-x-5 gap-y-2">
          {all.map((k) => (
            <div key={k.key} className="contents">
              <dt>
                <kbd className="rounded border border-line px-2 py-0.5 font-sans">{names[k.key] ?? k.key}</kbd>
              </dt>
              <dd>{k.does}</dd>
            </div>
          ))}
        </dl>
      </Sheet>
    </Dialog.Root>
  )
}
