import { Pencil } from "lucide-react"

import type { Block as Read } from "../../api/client"
import { kinds } from "../../parts/kinds"
import { language, t } from "../../words"

type Props = { block: Read; place: number; lit: boolean; onEdit?: () => void }

// Block is one thing that was read, with its kind and its place in the reading order.
export function Block({ block: b, place, lit, onEdit }: Props) {
  const pale = b.kind === "furniture" || b.kind === "contents"
  return (
    <div className={`grid grid-cols-[6.5rem_minmax(0,1fr)_1.75rem] gap-2 rounded px-2 py-1.5 ${lit ? "bg-ochre-wash" : ""}`}>
      <span className="text-sm leading-snug" style={{ borderLeft: `3px solid ${kinds[b.kind].ink}`, paddingLeft: "0.5rem" }}>
        <span className="figures">{place}</span> {kinds[b.kind].name.toLocaleLowerCase(language)}
        {b.level > 0 && ` ${b.level}`}
        {b.corrected && <span className="block text-ochre">{t("corrected")}</span>}
      </span>
      {b.kind === "table" && b.text.includes("|") ? (
        <Cells text={b.text} />
      ) : (
        <span className={`break-words whitespace-pre-line ${b.kind === "heading" ? "font-serif text-lg" : ""} ${pale ? "text-quiet" : ""}`}>{b.text}</span>
      )}
      {onEdit && (
        <button type="button" aria-label={t("Correct block {place}", { place })} className="self-start rounded p-1 text-quiet hover:text-leaf" onClick={onEdit}>
          <Pencil aria-hidden className="size-4" />
        </button>
      )}
    </div>
  )
}

// Cells is a table as it was read: a row a line, cells apart by "|".
function Cells({ text }: { text: string }) {
  return (
    <div className="overflow-x-auto" tabIndex={0} role="region" aria-label={t("Table as it was read")}>
      <table className="text-sm">
        <tbody>
          {text.split("\n").map((row, i) => (
            <tr key={i} className="border-b border-line">
              {row.split("|").map((cell, j) => (
                <td key={j} className="py-0.5 pr-3 align-top">
                  {cell.trim()}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
