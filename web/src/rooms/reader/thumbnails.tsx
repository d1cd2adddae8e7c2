import { useVirtualizer } from "@tanstack/react-virtual"
import { type RefObject, useEffect } from "react"
import { Link } from "react-router"

import { pictureOf } from "../../api/client"
import { pageAt } from "../../parts/place"
import { t } from "../../words"

type Props = { collection: string; document: string; at: number; of: number; scrolls: RefObject<HTMLDivElement | null> }

const perRow = 2
const high = 150

// Thumbnails are small pictures of the pages, of which those in view are fetched.
export function Thumbnails({ collection, document, at, of, scrolls }: Props) {
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions are not memoised here
  const rows = useVirtualizer({ count: Math.ceil(of / perRow), getScrollElement: () => scrolls.current, estimateSize: () => high, overscan: 2 })
  useEffect(() => rows.scrollToIndex(Math.floor((at - 1) / perRow), { align: "auto" }), [rows, at])
  return (
    <div className="relative" style={{ height: rows.getTotalSize() }}>
      {rows.getVirtualItems().map((row) => (
        <div key={row.key} className="absolute inset-x-0 grid grid-cols-2 gap-2" style={{ top: row.start, height: high }}>
          {Array.from({ length: perRow }, (_, i) => row.index * perRow + i + 1)
            .filter((n) => n <= of)
            .map((n) => (
              <Link key={n} to={pageAt(collection, document, n) + "?side=pages"} aria-label={t("page {page}", { page: n })} aria-current={n === at ? "page" : undefined} className="flex flex-col items-center justify-end">
                <img src={pictureOf(collection, document, n, 30)} alt="" loading="lazy" className={`max-h-30 max-w-full border bg-white ${n === at ? "border-ochre outline-2 outline-ochre" : "border-line"}`} />
                <span className="figures text-sm text-quiet">{n}</span>
              </Link>
            ))}
        </div>
      ))}
    </div>
  )
}
