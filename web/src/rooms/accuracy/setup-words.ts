import type { Setup } from "../../api/client"
import { t } from "../../words"

const cuts: Record<string, string> = { structure: t("by structure"), words: t("by words"), page: t("by page") }

const found: Record<string, string> = { words: t("found by words"), meaning: t("found by meaning"), both: t("found by words and meaning") }

// setupWords says what a set-up is.
export function setupWords(s: Setup): string {
  const p = s.recipe.passage
  return [
    t("passages of {n} words", { n: p.target }) + " " + (cuts[p.cut ?? "structure"] ?? ""),
    p.overlap ? t("{n} repeated", { n: p.overlap }) : "",
    found[s.recipe.retrieval || "both"],
    s.passages ? t("{n} passages read", { n: s.passages }) : "",
    s.certain ? t("answers from {n}", { n: String(s.certain) }) : "",
  ]
    .filter(Boolean)
    .join(", ")
}
