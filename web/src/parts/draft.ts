import { useState } from "react"

// useDraft is a state that survives leaving the view, until the tab is closed.
export function useDraft(name: string, first = ""): [string, (text: string) => void] {
  const [text, setText] = useState(() => first || (sessionStorage.getItem(name) ?? ""))
  const type = (words: string) => {
    setText(words)
    if (words) sessionStorage.setItem(name, words)
    else sessionStorage.removeItem(name)
  }
  return [text, type]
}
