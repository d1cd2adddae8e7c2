import { useEffect, useRef } from "react"
import { Link } from "react-router"

import { pictureOf } from "../../api/client"
import { useWorstPages } from "../../api/queries"
import { Findings } from "../../parts/findings"
import { pageName } from "../../parts/place"
import { plural, t } from "../../words"

// Worst lists the pages that most should be looked at.
export function Worst({ collection }: { collection: string }) {
  const worst = useWorstPages(collection, 25)
  const section = useRef<HTMLElement>(null)
  const there = worst.data !== undefined
  useEffect(() => {
    if (there && window.location.hash === "#worst") section.current?.scrollIntoView()
  }, [there])
  if (!worst.data || worst.data.of === 0) return null
  return (
    <section id="worst" ref={section} className="mt-14">
      <h2 className="text-2xl">{t("Pages to look at")}</h2>
      <p className="mt-2 max-w-prose text-quiet">{t("The worst first. A page has 100 points where nothing was found amiss.")}</p>
      <ol className="mt-6 divide-y divide-line">
        {worst.data.pages.map((p) => (
          <li key={`${p.document_id} ${p.number}`} className="grid grid-cols-[4.5rem_3rem_1fr] items-start gap-5 py-4">
            <img src={pictureOf(collection, p.document_id, p.number, 30)} alt="" loading="lazy" className="border border-line bg-white" />
            <span className={`figures text-2xl ${p.score < 60 ? "text-brick" : p.score < 90 ? "text-ochre" : "text-quiet"}`}>{p.score}</span>
            <div>
              <Link to={`/c/${collection}/pages/${encodeURIComponent(p.document)}/${p.number}`} className="text-leaf underline underline-offset-4">
                {p.document}, {pageName(p.number, p.label)}
              </Link>
              <div className="mt-2">
                <Findings findings={p.findings} />
              </div>
            </div>
          </li>
        ))}
      </ol>
      {worst.data.of > worst.data.pages.length && <p className="figures mt-4 text-quiet">{plural(worst.data.of - worst.data.pages.length, "{n} more page with findings.|{n} more pages with findings.")}</p>}
    </section>
  )
}
