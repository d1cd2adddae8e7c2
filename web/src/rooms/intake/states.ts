import type { Document } from "../../api/client"
import { plural, t } from "../../words"

export const isUnder = (d: Document) => d.state === "queued" || d.state === "reading" || d.state === "indexing"

// A Stage is what documents are shown by: all, those on their way in, failed and ready ones.
export type Stage = "" | "under" | "failed" | "ready"

export const inStage = (d: Document, stage: Stage) => stage === "" || (stage === "under" ? isUnder(d) : d.state === stage)

// wordFor says how far a document is.
export function wordFor(d: Document): string {
  switch (d.state) {
    case "queued":
      return t("queued")
    case "reading":
      return d.pages ? plural(d.pages, "reading, {done} of {n} page|reading, {done} of {n} pages", { done: d.pages_done }) : t("opening")
    case "indexing":
      return t("indexing")
    case "failed":
      return t("failed")
    case "ready":
      return d.encoded < d.passages
        ? plural(d.passages, "found by its words; meaning {done} of {n} passage|found by its words; meaning {done} of {n} passages", { done: d.encoded })
        : plural(d.pages, "{n} page|{n} pages")
    default:
      return ""
  }
}
