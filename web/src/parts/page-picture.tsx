import { useEffect, useRef, useState } from "react"

import { pictureOf, type Box } from "../api/client"
import { usePage } from "../api/queries"
import { t } from "../words"

// An Outline is drawn around a part of the page, with a name at its corner.
export type Outline = { box: Box; name?: string; ink: string; faint?: boolean }

type Props = {
  collection: string
  document: string
  number: number
  marks?: Box[]
  outlines?: Outline[]
  onPick?: (i: number) => void
  onPoint?: (i: number) => void
}

// Resolutions that pages are drawn in, so that a picture is fetched once for many sizes.
const resolutions = [60, 90, 130, 200, 300]

// useResolution is one that is fine enough for the width at which an element is shown.
function useResolution(points: number) {
  const frame = useRef<HTMLDivElement>(null)
  const [dpi, setDPI] = useState(0)
  useEffect(() => {
    if (!frame.current) return
    const watch = new ResizeObserver(([entry]) => {
      const wanted = ((entry?.contentRect.width ?? 0) * window.devicePixelRatio * 72) / points
      setDPI((now) => Math.max(now, resolutions.find((r) => r >= wanted) ?? 300))
    })
    watch.observe(frame.current)
    return () => watch.disconnect()
  }, [points])
  return { frame, dpi }
}

// PagePicture shows a page as it looks, with boxes of it marked. Marks are laid over the picture
// in the page's own points, so they fit at any size; so is its text, unseen, to be selected.
export function PagePicture({ collection, document, number, marks = [], outlines = [], onPick, onPoint }: Props) {
  const page = usePage(collection, document, number)
  const first = useRef<SVGRectElement>(null)
  const { width = 595, height = 842 } = page.data ?? {}
  const { frame, dpi } = useResolution(width)
  const here = marks.filter((m) => m.page === number)
  const place = here[0] ? `${here[0].x0},${here[0].y0}` : ""
  useEffect(() => {
    if (place && page.data) bringIntoView(first.current)
  }, [place, number, document, page.data])
  return (
    <div ref={frame} className="relative border border-line bg-white shadow-md" style={{ aspectRatio: `${width} / ${height}` }}>
      {dpi > 0 && (
        <img
          key={`${document} ${number}`}
          src={pictureOf(collection, document, number, dpi)}
          alt={t("Page {number} of {document}", { number: String(number), document: page.data?.document ?? document })}
          className="absolute inset-0 size-full"
        />
      )}
      <svg viewBox={`0 0 ${width} ${height}`} className="absolute inset-0 size-full mix-blend-multiply" aria-hidden>
        {here.map((b, i) => (
          <rect key={i} ref={i === 0 ? first : undefined} data-mark {...area(b, 1.5)} rx={1.5} fill="#f2c14e" fillOpacity={0.55} />
        ))}
        {!onPick && page.data?.lines.map((l, i) => <Line key={i} text={l.text} box={l.box} />)}
        {!onPick &&
          page.data?.links.map((l, i) => (
            <a key={i} href={l.target} target="_blank" rel="noreferrer noopener" tabIndex={-1}>
              <title>{l.target}</title>
              <rect {...area(l.box)} fill="transparent" />
            </a>
          ))}
        {outlines.map((o, i) => (
          <g key={i} onClick={() => onPick?.(i)} onMouseEnter={() => onPoint?.(i)} className={onPick ? "cursor-pointer" : "pointer-events-none"}>
            <rect {...area(o.box, 1)} fill="transparent" stroke={o.ink} strokeWidth={o.faint ? 0.5 : 1} strokeDasharray={o.faint ? "2 2" : undefined} />
            {o.name && <Corner outline={o} name={o.name} />}
          </g>
        ))}
      </svg>
    </div>
  )
}

// Line is the text of a line, where it stands.
function Line({ text, box }: { text: string; box: Box }) {
  const high = box.y1 - box.y0
  return (
    <text className="page-text" x={box.x0} y={box.y1 - high * 0.22} fontSize={high * 0.85} textLength={Math.max(1, box.x1 - box.x0)} lengthAdjust="spacingAndGlyphs">
      {text + "\n"}
    </text>
  )
}

// Corner is the name of an outline, to the left of its upper edge where there
// is room.
function Corner({ outline, name }: { outline: Outline; name: string }) {
  const width = name.length * 4.4 + 4
  const x = outline.box.x0 - 1 - width > 0 ? outline.box.x0 - 1 - width : outline.box.x0 - 1
  const y = outline.box.y0 - 1 - (x < outline.box.x0 - 1 ? 0 : 9)
  return (
    <>
      <rect x={x} y={y} width={width} height={9} fill={outline.ink} />
      <text x={x + width / 2} y={y + 6.8} fontSize={7} textAnchor="middle" fill="#fff" className="figures">
        {name}
      </text>
    </>
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
