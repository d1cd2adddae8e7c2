import { pictureOf } from "../../api/client"
import { plural } from "../../words"
import type { Shows, Spot } from "./spots"

type Props = { collection: string; spots: Spot[]; at: number; onShow: Shows }

// Heat shows the pages that an answer comes from, small, each with a bar as long as there is
// evidence on it.
export function Heat({ collection, spots, at, onShow }: Props) {
  const pages = new Map<string, { first: number; spots: number[]; spot: Spot }>()
  spots.forEach((spot, i) => {
    const key = `${spot.document_id} ${spot.page}`
    const there = pages.get(key)
    if (there) there.spots.push(i)
    else pages.set(key, { first: i, spots: [i], spot })
  })
  if (pages.size < 2) return null
  const most = Math.max(...[...pages.values()].map((p) => p.spots.length))
  return (
    <ul className="mb-2 flex shrink-0 gap-2 overflow-x-auto p-1">
      {[...pages.entries()].map(([key, { first, spots: there, spot }]) => (
        <li key={key} className="shrink-0">
          <button
            type="button"
            aria-pressed={there.includes(at)}
            aria-label={plural(there.length, "{document}, page {page}: {n} place|{document}, page {page}: {n} places", { document: spot.document, page: String(spot.page) })}
            onClick={() => onShow(first)}
            className={`block w-11 border bg-white ${there.includes(at) ? "outline-2 outline-ochre" : "border-line"}`}
          >
            <img src={pictureOf(collection, spot.document_id, spot.page, 30)} alt="" className="h-14 w-full object-cover object-top" />
            <span className="block h-1.5 bg-[#f2c14e]" style={{ width: `${(100 * there.length) / most}%` }} />
          </button>
        </li>
      ))}
    </ul>
  )
}
