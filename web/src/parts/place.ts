import { t } from "../words"

// pageName says a page as physical number, and as printed where that differs.
export function pageName(page: number, label: string): string {
  return label && label !== String(page) ? t("page {page} (printed {label})", { page, label }) : t("page {page}", { page })
}

// digestAt is the address of what a document holds at a glance.
export const digestAt = (collection: string, document: string) => `/c/${collection}/pages/${encodeURIComponent(document)}/digest`

// pageAt is the address of a page in the reader.
export const pageAt = (collection: string, document: string, page: number) =>
  `/c/${collection}/pages/${encodeURIComponent(document)}/${page}`
