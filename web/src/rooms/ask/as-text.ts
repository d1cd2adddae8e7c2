import type { Answer, Asked } from "../../api/client"
import { pageName } from "../../parts/place"

// asText is a question with its answer and where it stands, as plain text.
export function asText(asked: Asked, answer: Answer): string {
  const said = answer.statements.map((s) => `${s.text} ${s.citations.map((n) => `[${n}]`).join("")}`)
  const lines = answer.statements.length ? [answer.short, ...said] : [answer.answer]
  const cited = answer.citations.map((c) => `[${c.number}] ${c.title || c.document}, ${pageName(c.page, c.label)}: ${c.document}`)
  return [asked.question, "", ...lines, "", ...cited].join("\n").trim()
}
