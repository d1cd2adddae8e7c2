import { Link } from "react-router"

import type { Schemas } from "../../api/client"
import { plural, t } from "../../words"

type Covered = Schemas["SetReview"]["coverage"][number]

// Coverage draws each section of each document as a cell, the darker the more questions touch it.
export function Coverage({ all, collection }: { all: Covered[]; collection: string }) {
  const documents = [...new Set(all.map((c) => c.document))]
  if (documents.length === 0) return null
  return (
    <section className="mt-10">
      <h2 className="text-xl">{t("What no question touches")}</h2>
      <p className="mt-1 text-sm text-quiet">{t("A cell is a section, in the document’s order; empty ones have no question. Drafts do not count.")}</p>
      <ul className="mt-3 space-y-2">
        {documents.map((d) => {
          const sections = all.filter((c) => c.document === d)
          return (
            <li key={d} className="grid items-start gap-x-4 gap-y-1 sm:grid-cols-[18rem_1fr]">
              <span className="figures truncate text-sm" title={d}>
                {d} <span className="text-quiet">{t("{n} of {sections}", { n: sections.filter((s) => s.questions > 0).length, sections: sections.length })}</span>
              </span>
              <span className="flex flex-wrap gap-0.5">
                {sections.map((s, i) => (
                  <Link
                    key={i}
                    to={`/c/${collection}/pages/${encodeURIComponent(d)}/${s.page}`}
                    title={plural(s.questions, "{section}, page {page}: {n} question|{section}, page {page}: {n} questions", { section: s.section, page: String(s.page) })}
                    aria-label={plural(s.questions, "{section}, page {page}: {n} question|{section}, page {page}: {n} questions", { section: s.section, page: String(s.page) })}
                    className="size-6 rounded-sm border border-quiet"
                    style={{ background: s.questions ? `color-mix(in srgb, var(--leaf) ${Math.min(100, 35 + 20 * s.questions)}%, transparent)` : "transparent" }}
                  />
                ))}
              </span>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
