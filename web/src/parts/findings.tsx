import type { Finding } from "../api/client"
import { t } from "../words"

const looks = { fault: "border-brick text-brick", doubt: "border-ochre text-ochre", remark: "border-line text-quiet" }

// Findings lists what was found about a page and what to do about it.
export function Findings({ findings }: { findings: Finding[] }) {
  if (findings.length === 0) return null
  return (
    <ul className="space-y-2" aria-label={t("Findings")}>
      {findings.map((f, i) => (
        <li key={i} className={`border-l-4 pl-3 ${looks[f.severity]}`}>
          <span className="font-medium capitalize">{f.severity}</span>: {f.text}. <span className="text-quiet">{f.advice}</span>
        </li>
      ))}
    </ul>
  )
}
