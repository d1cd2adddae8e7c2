import type { Setup } from "../../api/client"

// setupWords says what a set-up is.
export function setupWords(s: Setup): string {
  const p = s.recipe.passage
  const found = { words: "words", meaning: "meaning", both: "words and meaning", "": "words and meaning" }[s.recipe.retrieval ?? ""]
  return [
    `passages of ${p.target} words by ${p.cut || "structure"}`,
    p.overlap ? `${p.overlap} repeated` : "",
    `found by ${found}`,
    s.passages ? `${s.passages} read` : "",
    s.certain ? `answers from ${s.certain}` : "",
  ].filter(Boolean).join(", ")
}
