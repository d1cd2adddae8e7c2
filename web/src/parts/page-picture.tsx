import { useEffect, useRef } from "react"

import { pictureOf, type Box } from "../api/client"
import { usePage } from "../api/queries"

type Props = { collection: string; document: string; number: number; marks?: Box[]; outlines?: Box[]; onPick?: (i: number) => void }

const dpi = 130

// PagePicture shows a page as it looks, with boxes of it marked. Marks are laid
// over the picture in the page's own points, so they fit at any size.
export function PagePicture({ collection, document, number, marks = [], outlines = [], onPick }: Props) {
  const page = usePage(collection, document, number)
  const first = useRef<SVGRectElement>(null)
  const { width = 595, height = 842 } = page.data ?? {}
  const here = marks.filter((m) => m.page === number)
  const place = here[0] ? `${here[0].x0},${here[0].y0}` : ""
  useEffect(() => {
    if (place && page.data) bringIntoView(first.current)
  }, [place, number, document, page.data])
  return (
    <div className="relative border border-line bg-white shadow-md" style={{ aspectRatio: `${width} / ${height}` }}>
      <img
        key={`${document} ${number}`}
        src={pictureOf(collection, document, number, dpi)}
        alt={`Page ${number} of ${document}`}
        className="absolute inset-0 size-full"
      />
      <svg viewBox={`0 0 ${width} ${height}`} className="absolute inset-0 size-full mix-blend-multiply" aria-hidden={!onPick}>
        {outlines.map((b, i) => (
          <rect key={i} {...area(b)} fill="transparent" stroke="#2a6539" strokeWidth={0.7} onClick={() => onPick?.(i)} />
        ))}
        {here.map((b, i) => (
          <rect key={i} ref={i === 0 ? first : undefined} data-mark {...area(b, 1.5)} rx={1.5} fill="#f2c14e" fillOpacity={0.55} />
        ))}
      </svg>
    </div>
  )
}

// bringIntoView scrolls the box that the page stands in, never the window.
function bringIntoView(mark: Element | null) {
  const frame = mark?.closest("[data-scrolls]")
  if (!mark || !frame) return
  const { top, height } = mark.getBoundingClientRect()
  const view = frame.getBoundingClientRect()
  frame.scrollTop += top + height / 2 - (view.top + view.height / 2)
}

const area = (b: Box, room = 0) => ({
  x: b.x0 - room,
  y: b.y0 - room,
  width: b.x1 - b.x0 + 2 * room,
  height: b.y1 - b.y0 + 2 * room,
})
