import { ChevronLeft, ChevronRight } from "lucide-react"
import { useState } from "react"
import { Link } from "react-router"

import { fileOf } from "../../api/client"
import { usePage } from "../../api/queries"
import { IconButton } from "../../parts/icon-button"
import { useKeys } from "../../parts/keys"
import { PagePicture } from "../../parts/page-picture"
import { pageAt, pageName } from "../../parts/place"
import { Zoom, zoomBy, Zoomed } from "../../parts/zoom"
import { number, t } from "../../words"
import { Heat } from "./heat"
import { type Shown, type Shows, spotsOf } from "./spots"

type Props = { collection: string; shown: Shown; onShow: Shows; high?: string }

// Evidence is the page that a statement stands on, with its lines marked. From there one turns
// to the pages beside it, and to the answer's other places.
export function Evidence({ collection, shown, onShow, high = "lg:max-h-[calc(100dvh-2rem)]" }: Props) {
  const spots = spotsOf(shown.answer)
  const spot = spots[shown.at] ?? spots[0]
  const [zoom, setZoom] = useState(1)
  const [turned, setTurned] = useState(0)
  const of = usePage(collection, spot?.document_id ?? "", spot?.page ?? 1).data?.of ?? 1
  const page = Math.min(of, Math.max(1, (spot?.page ?? 1) + turned))
  const to = (at: number) => at >= 0 && at < spots.length && onShow(at)
  const turnTo = (wanted: number) => spot && setTurned(Math.min(of, Math.max(1, wanted)) - spot.page)
  useKeys([
    { key: "n", does: t("Next place of the answer"), run: () => to(shown.at + 1) },
    { key: "b", does: t("Place before"), run: () => to(shown.at - 1) },
    { key: "ArrowRight", does: t("Next page"), run: () => turnTo(page + 1) },
    { key: "ArrowLeft", does: t("Previous page"), run: () => turnTo(page - 1) },
    { key: "+", does: t("Larger"), run: () => setZoom(zoomBy(zoom, 1)) },
    { key: "-", does: t("Smaller"), run: () => setZoom(zoomBy(zoom, -1)) },
  ])
  if (!spot) return null
  return (
    <div className={`flex flex-col ${high}`}>
      <div className="leading-snug">
        <span className="font-medium break-words">{spot.title || spot.document}</span>
        <span className="figures block text-sm text-quiet">
          {spot.document}, {page === spot.page ? pageName(spot.page, spot.label) : pageName(page, "")} ·{" "}
          <Link to={pageAt(collection, spot.document, page)} className="text-leaf underline">
            {t("what was read here")}
          </Link>{" "}
          ·{" "}
          <a href={`${fileOf(collection, spot.document_id)}#page=${page}`} target="_blank" rel="noreferrer" className="text-leaf underline">
            {t("the file")}
          </a>
        </span>
      </div>
      <div className="my-2 flex flex-wrap items-center gap-x-5 gap-y-2 text-sm">
        {spots.length > 1 && (
          <span className="figures flex items-center gap-1.5">
            <IconButton name={t("Place before")} icon={ChevronLeft} disabled={shown.at <= 0} onPress={() => to(shown.at - 1)} />
            {t("Place {n} of {all}", { n: number(shown.at + 1), all: spots.length })}
            <IconButton name={t("Next place of the answer")} icon={ChevronRight} disabled={shown.at >= spots.length - 1} onPress={() => to(shown.at + 1)} />
          </span>
        )}
        <span className="figures flex items-center gap-1.5">
          <IconButton name={t("Previous page")} icon={ChevronLeft} disabled={page <= 1} onPress={() => turnTo(page - 1)} />
          {t("Page {page} of {of}", { page, of })}
          <IconButton name={t("Next page")} icon={ChevronRight} disabled={page >= of} onPress={() => turnTo(page + 1)} />
        </span>
        <Zoom zoom={zoom} onZoom={setZoom} />
      </div>
      <Heat collection={collection} spots={spots} at={shown.at} onShow={onShow} />
      <Zoomed zoom={zoom}>
        <PagePicture collection={collection} document={spot.document_id} number={page} marks={spot.boxes} />
      </Zoomed>
    </div>
  )
}
