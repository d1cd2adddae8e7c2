import { ZoomIn, ZoomOut } from "lucide-react"
import type { ReactNode } from "react"

import { number, t } from "../words"
import { IconButton } from "./icon-button"

const zooms = [1, 1.25, 1.5, 2, 3, 4]

// zoomBy returns the zoom so many steps larger, or smaller if there are less than none.
export const zoomBy = (zoom: number, by: number) => zooms[Math.min(zooms.length - 1, Math.max(0, zooms.indexOf(zoom) + by))] ?? 1

// Zoom makes a page's picture larger and smaller.
export function Zoom({ zoom, onZoom }: { zoom: number; onZoom: (zoom: number) => void }) {
  const at = zooms.indexOf(zoom)
  return (
    <span className="inline-flex items-center gap-1.5">
      <IconButton name={t("Smaller")} icon={ZoomOut} disabled={at <= 0} onPress={() => onZoom(zoomBy(zoom, -1))} />
      <span className="figures w-11 text-center text-sm text-quiet">{number(zoom * 100)} %</span>
      <IconButton name={t("Larger")} icon={ZoomIn} disabled={at >= zooms.length - 1} onPress={() => onZoom(zoomBy(zoom, 1))} />
    </span>
  )
}

// Zoomed is what a zoomed picture stands in; it can be scrolled both ways.
export function Zoomed({ name = t("Picture of the page"), zoom, className = "", children }: { name?: string; zoom: number; className?: string; children: ReactNode }) {
  return (
    <div data-scrolls tabIndex={0} role="region" aria-label={name} className={`min-h-0 overflow-auto ${className}`}>
      <div style={{ width: `${zoom * 100}%` }}>{children}</div>
    </div>
  )
}
