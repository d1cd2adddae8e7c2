import { SunMoon } from "lucide-react"
import { Dialog } from "radix-ui"
import { lazy, Suspense } from "react"

import { t } from "../words"
import { Sheet } from "./sheet"

const Looks = lazy(() => import("./looks"))

// Display lets a reader choose how the console looks, and its language.
export function Display() {
  return (
    <Dialog.Root>
      <Dialog.Trigger aria-label={t("Appearance and language")} className="self-center rounded p-1 text-quiet hover:text-ink">
        <SunMoon aria-hidden className="size-4.5" />
      </Dialog.Trigger>
      <Sheet title={t("Appearance and language")}>
        <Suspense>
          <Looks />
        </Suspense>
      </Sheet>
    </Dialog.Root>
  )
}
