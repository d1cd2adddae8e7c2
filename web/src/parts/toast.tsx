import { Toast } from "radix-ui"
import { useSyncExternalStore } from "react"

import { t } from "../words"

// A Told is said for a while at the window's edge, with a way to take back what was done.
type Told = { id: number; text: string; undo?: () => void }

let told: Told[] = []
const listeners = new Set<() => void>()

function set(next: Told[]) {
  told = next
  listeners.forEach((l) => l())
}

// tell says what was done.
export const tell = (text: string, undo?: () => void) => set([...told, { id: (told.at(-1)?.id ?? 0) + 1, text, undo }])

const forget = (id: number) => set(told.filter((one) => one.id !== id))

const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

// Toasts shows what was told.
export function Toasts() {
  const all = useSyncExternalStore(subscribe, () => told)
  return (
    <Toast.Provider duration={8000} label={t("Notice")}>
      {all.map((one) => (
        <Toast.Root
          key={one.id}
          onOpenChange={(open) => !open && forget(one.id)}
          className="flex items-baseline gap-4 rounded-lg border border-line bg-ink px-4 py-3 text-paper shadow-xl"
        >
          <Toast.Description>{one.text}</Toast.Description>
          {one.undo && (
            <Toast.Action altText={t("Undo")} className="font-semibold underline" onClick={one.undo}>
              {t("Undo")}
            </Toast.Action>
          )}
        </Toast.Root>
      ))}
      <Toast.Viewport className="fixed right-4 bottom-4 z-30 flex w-[min(26rem,92vw)] flex-col gap-2" />
    </Toast.Provider>
  )
}
