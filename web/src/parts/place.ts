// pageName says a page as physical number, and as printed where that differs.
export function pageName(page: number, label: string): string {
  return label && label !== String(page) ? `page ${page} (printed ${label})` : `page ${page}`
}

export const plural = (n: number, one: string) => `${n.toLocaleString("en")} ${one}${n === 1 ? "" : "s"}`

// when says a moment by day and minute.
export const when = (at: string) => new Date(at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })
