import { Tabs } from "radix-ui"
import { useState } from "react"
import { Link, useParams, useSearchParams } from "react-router"

import { type Digest, type Quote, useDigest } from "../../api/digest"
import { Failure, Waiting } from "../../parts/notice"
import { pageAt } from "../../parts/place"
import { tab } from "../../parts/tab"
import { useWide } from "../../parts/wide"
import { t } from "../../words"
import { Changes } from "./changes"
import { Dates } from "./dates"
import { Duties } from "./duties"
import { Figures } from "./figures"
import { Offices } from "./offices"
import { Outline } from "./outline"
import { Over } from "./over"
import { Plain } from "./plain"
import { Questions } from "./questions"
import { Save } from "./save"
import { ShownPage } from "./shown-page"
import { Summary } from "./summary"
import { Tables } from "./tables"
import { Terms } from "./terms"

// DigestRoom shows what a document holds at a glance, each line beside the page that it stands on.
export default function DigestRoom() {
  const { collection = "", document = "" } = useParams()
  const [search, setSearch] = useSearchParams()
  const digest = useDigest(collection, document)
  const [picked, setPicked] = useState<Quote>()
  const wide = useWide()
  const part = search.get("part") ?? "summary"
  if (digest.isPending) return <Waiting what={t("Reading the document for its main points…")} />
  if (digest.isError) return <Failure error={digest.error} />
  const d = digest.data
  const shown = picked ?? (wide ? firstOf(d, part) : undefined)
  const at = { collection, document, shown, onShow: setPicked }
  const turn = (wanted: string) => {
    setPicked(undefined)
    setSearch({ part: wanted }, { replace: true })
  }
  const parts = [
    ["summary", t("Summary"), <Summary digest={d} {...at} />],
    ["outline", t("Outline"), <Outline digest={d} {...at} />],
    ["dates", t("Dates"), <Dates digest={d} {...at} />],
    ["figures", t("Figures"), <Figures digest={d} {...at} />],
    ["duties", t("Duties"), <Duties digest={d} {...at} />],
    ["people", t("Who does what"), <Offices digest={d} {...at} />],
    ["terms", t("Terms"), <Terms digest={d} {...at} />],
    ["questions", t("Questions"), <Questions {...at} />],
    ["plain", t("Plain words"), <Plain digest={d} {...at} />],
    ["tables", t("Tables"), <Tables {...at} />],
    ["changes", t("Changes"), <Changes {...at} />],
  ] as const
  return (
    <div>
      <div className="flex flex-wrap items-baseline gap-x-6 gap-y-2">
        <h1 className="min-w-0 basis-full text-2xl break-words lg:basis-auto lg:grow">
          {t("{title} at a glance", { title: d.title || d.document })}
          <span className="ml-3 font-sans text-sm text-quiet">{d.document}</span>
        </h1>
        <Link to={pageAt(collection, document, 1)} className="text-leaf underline underline-offset-4">
          {t("Read its pages")}
        </Link>
        <Save collection={collection} document={document} />
      </div>
      <Tabs.Root value={part} onValueChange={turn} className="mt-4">
        <Tabs.List aria-label={t("Parts of the digest")} className="flex gap-x-4 overflow-x-auto border-b border-line whitespace-nowrap">
          {parts.map(([name, label]) => (
            <Tabs.Trigger key={name} value={name} className={`${tab} py-1.5`}>
              {label}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <div className={`mt-5 grid gap-8 ${part === "tables" ? "" : "lg:grid-cols-[minmax(0,1fr)_minmax(0,26rem)]"}`}>
          <div className="min-w-0">
            {parts.map(([name, , content]) => (
              <Tabs.Content key={name} value={name}>
                {content}
              </Tabs.Content>
            ))}
            {d.dropped > 0 && <p className="figures mt-6 text-sm text-quiet">{t("{n} lines were left out by editors.", { n: d.dropped })}</p>}
          </div>
          {wide && part !== "tables" && <ShownPage collection={collection} document={document} quote={shown} />}
        </div>
      </Tabs.Root>
      {!wide && <Over collection={collection} document={document} quote={picked} onClose={() => setPicked(undefined)} />}
    </div>
  )
}

// firstOf is the line that a part begins with, whose page is shown at first.
function firstOf(d: Digest, part: string): Quote | undefined {
  if (part === "outline") return d.outline.find((h) => h.about && h.level === 1)?.about
  if (part === "people") return d.duties.find((one) => d.offices[0]?.duties.includes(one.id))?.quote ?? d.offices[0]?.tasks[0]
  if (part === "dates") return d.dates[0]?.quote
  if (part === "figures") return d.figures.find((f) => f.measure)?.quote
  if (part === "duties") return d.duties[0]?.quote
  if (part === "terms") return d.terms[0]?.quote
  return part === "summary" ? d.summary[0] : undefined
}
