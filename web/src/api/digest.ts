import { useQuery } from "@tanstack/react-query"

import { api, given, type Schemas } from "./client"
import { useChange } from "./queries"

export type Digest = Schemas["Digest"]
export type Quote = Schemas["Quote"]
export type Plain = Schemas["Plain"]
export type Table = Schemas["Table"]

const document = "/collections/{collection}/documents/{document}"

// useDigest is what a document holds at a glance; the service makes it at once if it has to.
export const useDigest = (collection: string, name: string) =>
  useQuery({
    queryKey: ["digest", collection, name],
    queryFn: async () => given(await api.GET(`${document}/digest`, { params: { path: { collection, document: name } } })) as Digest,
    staleTime: 60_000,
  })

// useEditDigest drops a line or words it anew; without an edit the line is as it stands again.
export const useEditDigest = (collection: string, name: string) =>
  useChange(async ({ line, edit }: { line: string; edit?: Schemas["DigestEdit"] }) => {
    const path = { collection, document: name, line }
    return given(edit ? await api.PUT(`${document}/digest/{line}`, { params: { path }, body: edit }) : await api.DELETE(`${document}/digest/{line}`, { params: { path } }))
  }, "digest")

export const useTables = (collection: string, name: string) =>
  useQuery({
    queryKey: ["tables", collection, name],
    queryFn: async () => given(await api.GET(`${document}/tables`, { params: { path: { collection, document: name } } })).tables,
    staleTime: 60_000,
  })

export const useTable = (collection: string, name: string, table: number, joined: boolean) =>
  useQuery({
    queryKey: ["tables", collection, name, table, joined],
    queryFn: async () => given(await api.GET(`${document}/tables/{table}`, { params: { path: { collection, document: name, table }, query: { joined } } })) as Table,
    enabled: table > 0,
    staleTime: 60_000,
  })

const at = (collection: string, name: string) => `/api/v1/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(name)}`

export const digestAs = (collection: string, name: string, format: string) => `${at(collection, name)}/digest?format=${format}`

export const tableAs = (collection: string, name: string, table: number, joined: boolean, format: string) => `${at(collection, name)}/tables/${table}?joined=${joined}&format=${format}`

export const useSheet = (collection: string, name: string) =>
  useQuery({
    queryKey: ["sheet", collection, name],
    queryFn: async () => given(await api.GET(`${document}/sheet`, { params: { path: { collection, document: name } } })) as Schemas["Sheet"],
    staleTime: 60_000,
  })

// useSummary is the sentences that say most of some documents, or of all.
export const useSummary = (collection: string, documents: string[], length: "short" | "page") =>
  useQuery({
    queryKey: ["digest", collection, "summary", documents, length],
    queryFn: async () => given(await api.GET("/collections/{collection}/summary", { params: { path: { collection }, query: { length, document: documents } } })).sentences,
    staleTime: 60_000,
  })

// usePlain are pages of a document in plain words.
export const usePlain = (collection: string, name: string, from: number, to?: number) =>
  useQuery({
    queryKey: ["plain", collection, name, from, to],
    queryFn: async () => given(await api.GET(`${document}/plain`, { params: { path: { collection, document: name }, query: { from, to } } })) as Plain,
    staleTime: 60_000,
  })

// useSuggestions are a few questions to begin with; those that are drafted meanwhile are fetched once more.
export const useSuggestions = (collection: string) =>
  useQuery({
    queryKey: ["suggestions", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/suggestions", { params: { path: { collection } } })).questions,
    staleTime: 60_000,
    refetchInterval: (query) => ((query.state.data?.length ?? 0) < 3 && query.state.dataUpdateCount < 3 ? 8000 : false),
  })

export const sheetAs = (collection: string, name: string) => `${at(collection, name)}/sheet?format=markdown`

export const plainAs = (collection: string, name: string, from: number, to?: number) => `${at(collection, name)}/plain?format=markdown&from=${from}${to ? `&to=${to}` : ""}`

export const useChanges = (collection: string, name: string, since: string) =>
  useQuery({
    queryKey: ["changes", collection, name, since],
    queryFn: async () => given(await api.GET(`${document}/changes`, { params: { path: { collection, document: name }, query: { since } } })),
    enabled: since !== "",
    staleTime: 60_000,
  })
