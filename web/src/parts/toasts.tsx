import { Toast } from "radix-ui"
import { useSyncExternalStore } from "react"

import { t } from "../words"
import { allTold, forget, subscribe } from "./toast"

// Toasts shows what was told.
export default function Toasts() {
  const all = useSyncExternalStore(subscribe, allTold)
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
      <Toast.Viewport className="fixed bottom-4 left-1/2 z-30 flex w-[min(26rem,92vw)] -translate-x-1/2 flex-col gap-2" />
    </Toast.Provider>
  )
}
