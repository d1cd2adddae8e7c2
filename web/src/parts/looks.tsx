import { useState } from "react"

import { choose, language, languages, t, type Language } from "../words"
import { Choose } from "./choose"
import { dress, theme } from "./theme"

// Looks are the choices of the console's look and language.
export default function Looks() {
  const [look, setLook] = useState(theme)
  const change = (wanted: string) => {
    setLook(wanted)
    dress(wanted)
  }
  return (
    <div className="space-y-4">
      <Choose label={t("Appearance")} value={look} onChange={change} className="w-full" of={[["", t("As the system")], ["light", t("Light")], ["dark", t("Dark")]]} />
      <Choose label={t("Language")} value={language} onChange={(l) => choose(l as Language)} className="w-full" of={Object.entries(languages)} />
    </div>
  )
}
