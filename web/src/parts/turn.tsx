import { ChevronLeft, ChevronRight } from "lucide-react"
import { type FormEvent, useState } from "react"

import { t } from "../words"
import { IconButton } from "./icon-button"

type Props = { name?: string; at: number; of: number; label: string; onTurn: (page: number) => void }

// Turn turns pages, or goes to one by its number.
export function Turn({ name = t("Pages"), at, of, label, onTurn }: Props) {
  return (
    <nav aria-label={name} className="figures flex items-center gap-2">
      <IconButton name={t("Previous page")} icon={ChevronLeft} disabled={at <= 1} onPress={() => onTurn(at - 1)} />
      <GoTo key={at} at={at} of={of} onTurn={onTurn} />
      <span>
        {t("of {n}", { n: of })}
        {label && label !== String(at) && <span className="text-quiet"> {t("(printed {label})", { label })}</span>}
      </span>
      <IconButton name={t("Next page")} icon={ChevronRight} disabled={at >= of} onPress={() => onTurn(at + 1)} />
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
