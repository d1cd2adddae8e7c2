import { useQuery } from "@tanstack/react-query"

import { api, given, type Schemas } from "./client"
import { useChange } from "./queries"

export const useSources = (collection: string, enabled: boolean) =>
  useQuery({
    queryKey: ["sources", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/sources", { params: { path: { collection } } })).sources,
    enabled,
    refetchInterval: 15_000,
  })

export const useAddSource = (collection: string) =>
  useChange(
    async (body: Schemas["NewSource"]) => given(await api.POST("/collections/{collection}/sources", { params: { path: { collection } }, body })),
    "sources",
    "documents",
  )

const at = (collection: string, source: string) => ({ path: { collection, source } })

export const useRemoveSource = (collection: string) =>
  useChange(
    async (source: string) => given(await api.DELETE("/collections/{collection}/sources/{source}", { params: at(collection, source) })),
    "sources",
  )

export const useLookAtSource = (collection: string) =>
  useChange(
    async (source: string) => given(await api.POST("/collections/{collection}/sources/{source}/look", { params: at(collection, source) })),
    "sources",
    "documents",
  )

export const useUnlock = (collection: string) =>
  useChange(
    async ({ document, password }: { document: string; password: string }) =>
      given(
        await api.POST("/collections/{collection}/documents/{document}/unlock", {
          params: { path: { collection, document } },
          body: { password },
        }),
      ),
    "documents",
  )

// useAskAcross asks all collections that the reader may read one question.
export const useAskAcross = () =>
  useChange(async (question: string) => given(await api.POST("/ask", { body: { question } })).answers as { collection: string; answer: Schemas["Answer"] }[])
