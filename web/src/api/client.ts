import createClient from "openapi-fetch"

import type { components, paths } from "./schema"

export type Schemas = components["schemas"]
export type Collection = Schemas["Collection"]
export type Document = Schemas["Document"]
export type Page = Schemas["Page"]
export type Block = Schemas["Block"]
export type Edit = Schemas["Edit"]
export type Corrections = Schemas["Corrections"]
export type Finding = Schemas["Finding"]
export type Box = Schemas["Box"]
export type Answer = Schemas["Answer"]
export type Citation = Schemas["Citation"]
export type Scope = { tags: string[]; documents: string[] }
// An Asked is a question with those before it and the documents to look in.
export type Asked = { question: string; after: string[]; scope: Scope }
export type Measurement = Schemas["Measurement"]
export type Figure = Schemas["Figure"]
export type Record = Schemas["Record"]
export type Question = Schemas["Question"]
export type Setup = Schemas["Setup"]
export type Job = Schemas["Job"]

export const api = createClient<paths>({ baseUrl: "/api/v1" })

// A Refusal is what the service said went wrong.
export class Refusal extends Error {
  status: number
  constructor(problem: Schemas["Problem"]) {
    super(problem.detail ?? problem.title)
    this.status = problem.status
  }
}

// given returns what a call gave, or throws what the service said went wrong.
export function given<T>(result: { data?: T; error?: Schemas["Problem"] }): T {
  if (result.error) throw new Refusal(result.error)
  return result.data as T
}

const at = (collection: string, document: string) =>
  `/api/v1/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}`

export const exportOf = (collection: string, document: string, format: string) => `${at(collection, document)}/export?format=${format}`

export const pictureOf = (collection: string, document: string, page: number, dpi: number) =>
  `${at(collection, document)}/pages/${page}/picture?dpi=${dpi}`

export const fileOf = (collection: string, document: string) => `${at(collection, document)}/file?as=pages`

export const originalOf = (collection: string, document: string) => `${at(collection, document)}/file`
