import { useQuery } from "@tanstack/react-query"

import { api, given } from "./client"
import { useChange } from "./queries"

// usePace tells how far a collection's intake is, as long as something is on its way in.
export const usePace = (collection: string, under: boolean) =>
  useQuery({
    queryKey: ["pace", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/intake", { params: { path: { collection } } })),
    enabled: under,
    refetchInterval: 2000,
  })

export const usePause = (collection: string) =>
  useChange(
    async (paused: boolean) =>
      given(await api.PUT("/collections/{collection}/intake", { params: { path: { collection } }, body: { paused } })),
    "pace",
    "collections",
  )

export const useReadAgain = (collection: string) =>
  useChange(async (document: string) =>
    given(await api.POST("/collections/{collection}/documents/{document}/read", { params: { path: { collection, document } } })),
  )

export const useDescribe = (collection: string) =>
  useChange(
    async (description: string) =>
      given(await api.PATCH("/collections/{collection}", { params: { path: { collection } }, body: { description } })),
    "collections",
  )

export const useAddDemo = () => useChange(async () => given(await api.POST("/demo")), "collections")

export const useOutline = (collection: string, document: string) =>
  useQuery({
    queryKey: ["outline", collection, document],
    queryFn: async () =>
      given(
        await api.GET("/collections/{collection}/documents/{document}/outline", { params: { path: { collection, document } } }),
      ).entries,
    staleTime: 60_000,
  })

export const useWithin = (collection: string, document: string, query: string) =>
  useQuery({
    queryKey: ["within", collection, document, query],
    queryFn: async () =>
      given(
        await api.GET("/collections/{collection}/documents/{document}/search", {
          params: { path: { collection, document }, query: { query } },
        }),
      ),
    enabled: query.trim() !== "",
    staleTime: 60_000,
  })

export const useVersions = (collection: string, document: string) =>
  useQuery({
    queryKey: ["versions", collection, document],
    queryFn: async () =>
      given(
        await api.GET("/collections/{collection}/documents/{document}/versions", { params: { path: { collection, document } } }),
      ).versions,
  })

export const useDocument = (collection: string, document: string) =>
  useQuery({
    queryKey: ["document", collection, document],
    queryFn: async () =>
      given(await api.GET("/collections/{collection}/documents/{document}", { params: { path: { collection, document } } })),
  })
