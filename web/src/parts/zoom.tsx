import { ZoomIn, ZoomOut } from "lucide-react"
import type { ReactNode } from "react"

import { number, t } from "../words"

export const zooms = [1, 1.25, 1.5, 2, 3, 4]

// Zoom makes a page's picture larger and smaller.
export function Zoom({ zoom, onZoom }: { zoom: number; onZoom: (zoom: number) => void }) {
  const at = zooms.indexOf(zoom)
  const look = "rounded border border-line p-1 hover:border-quiet disabled:opacity-40"
  return (
    <span className="inline-flex items-center gap-1.5">
      <button type="button" aria-label={t("Smaller")} disabled={at <= 0} onClick={() => onZoom(zooms[at - 1] ?? 1)} className={look}>
        <ZoomOut aria-hidden className="size-4" />
      </button>
      <span className="figures w-11 text-center text-sm text-quiet">{number(zoom * 100)} %</span>
      <button type="button" aria-label={t("Larger")} disabled={at >= zooms.length - 1} onClick={() => onZoom(zooms[at + 1] ?? 1)} className={look}>
        <ZoomIn aria-hidden className="size-4" />
      </button>
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
