import { ChevronLeft, ChevronRight } from "lucide-react"
import { type FormEvent, useState } from "react"

import { t } from "../words"

type Props = { name?: string; at: number; of: number; label: string; onTurn: (page: number) => void }

// Turn turns pages, or goes to one by its number.
export function Turn({ name = t("Pages"), at, of, label, onTurn }: Props) {
  const look = "inline-flex rounded border border-line p-1 hover:border-quiet disabled:opacity-40"
  return (
    <nav aria-label={name} className="figures flex items-center gap-2">
      <button type="button" aria-label={t("Previous page")} disabled={at <= 1} onClick={() => onTurn(at - 1)} className={look}>
        <ChevronLeft aria-hidden className="size-4" />
      </button>
      <GoTo key={at} at={at} of={of} onTurn={onTurn} />
      <span>
        {t("of {n}", { n: of })}
        {label && label !== String(at) && <span className="text-quiet"> {t("(printed {label})", { label })}</span>}
      </span>
      <button type="button" aria-label={t("Next page")} disabled={at >= of} onClick={() => onTurn(at + 1)} className={look}>
        <ChevronRight aria-hidden className="size-4" />
      </button>
    </nav>
  )
}

function GoTo({ at, of, onTurn }: Omit<Props, "label" | "name">) {
  const [page, setPage] = useState(String(at))
  const go = (event: FormEvent) => {
    event.preventDefault()
    const n = Number.parseInt(page)
    if (n >= 1 && n <= of) onTurn(n)
    else setPage(String(at))
  }
  return (
    <form onSubmit={go}>
      <input aria-label={t("Page")} inputMode="numeric" value={page} onChange={(e) => setPage(e.target.value)} onBlur={go} className="w-13 rounded border border-line bg-sheet px-1.5 py-0.5 text-right" />
    </form>
  )
}
