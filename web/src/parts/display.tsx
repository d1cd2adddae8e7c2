import { SunMoon } from "lucide-react"
import { Popover } from "radix-ui"
import { useState } from "react"

import { choose, language, languages, t, type Language } from "../words"
import { Choose } from "./choose"

const kept = "theme"

// dress takes the look that was chosen here, or else the system's.
export function dress(theme = localStorage.getItem(kept) ?? "") {
  if (theme) document.documentElement.dataset.theme = theme
  else delete document.documentElement.dataset.theme
}

// Display lets a reader choose how the console looks, and its language.
export function Display() {
  const [theme, setTheme] = useState(() => localStorage.getItem(kept) ?? "")
  const change = (wanted: string) => {
    setTheme(wanted)
    localStorage.setItem(kept, wanted)
    dress(wanted)
  }
  return (
    <Popover.Root>
      <Popover.Trigger aria-label={t("Appearance and language")} className="self-center rounded p-1 text-quiet hover:text-ink">
        <SunMoon aria-hidden className="size-4.5" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content aria-label={t("Appearance and language")} align="end" sideOffset={6} className="z-20 w-64 space-y-4 rounded-lg border border-line bg-sheet p-4 shadow-xl">
          <Choose label={t("Appearance")} value={theme} onChange={change} className="w-full" of={[["", t("As the system")], ["light", t("Light")], ["dark", t("Dark")]]} />
          <Choose label={t("Language")} value={language} onChange={(l) => choose(l as Language)} className="w-full" of={Object.entries(languages)} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
