import { useState } from "react"

import type { Answer, Asked } from "../../api/client"
import { pageName } from "../../parts/place"

// CopyAnswer puts a question, its answer and where it stands on the clipboard, as plain text.
export function CopyAnswer({ asked, answer }: { asked: Asked; answer: Answer }) {
  const [copied, setCopied] = useState(false)
  const copy = async () => {
    const lines = [asked.question, "", answer.short, ...answer.statements.map((s) => `${s.text} ${s.citations.map((n) => `[${n}]`).join("")}`), ""]
    const cited = answer.citations.map((c) => `[${c.number}] ${c.title || c.document}, ${pageName(c.page, c.label)}: ${c.document}`)
    await navigator.clipboard.writeText([...(answer.statements.length ? lines : [asked.question, "", answer.answer, ""]), ...cited].join("\n").trim())
    setCopied(true)
  }
  return (
    <button type="button" onClick={() => void copy()} className="text-leaf underline">
      {copied ? "Copied" : "Copy with citations"}
    </button>
  )
}
