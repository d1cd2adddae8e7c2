import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"

import { api, given, type Answer, type Asked, type Corrections, type Schemas, type Scope } from "./client"

export const useCollections = () =>
  useQuery({ queryKey: ["collections"], queryFn: async () => given(await api.GET("/collections")).collections })

export const useDocuments = (collection: string) =>
  useQuery({
    queryKey: ["documents", collection],
    queryFn: async () =>
      given(await api.GET("/collections/{collection}/documents", { params: { path: { collection } } })).documents,
  })

export const pageQuery = (collection: string, document: string, page: number) => ({
  queryKey: ["page", collection, document, page],
  queryFn: async () =>
    given(
      await api.GET("/collections/{collection}/documents/{document}/pages/{page}", {
        params: { path: { collection, document, page } },
      }),
    ),
  staleTime: Infinity,
})

export const usePage = (collection: string, document: string, page: number) => useQuery(pageQuery(collection, document, page))

export const useWorstPages = (collection: string, top: number) =>
  useQuery({
    queryKey: ["findings", collection, top],
    queryFn: async () => given(await api.GET("/collections/{collection}/findings", { params: { path: { collection }, query: { top } } })),
  })

export const useCorrections = (collection: string, document: string, page: number) =>
  useQuery({
    queryKey: ["corrections", collection, document, page],
    queryFn: async () =>
      given(
        await api.GET("/collections/{collection}/documents/{document}/pages/{page}/corrections", {
          params: { path: { collection, document, page } },
        }),
      ),
  })

export const useCorrect = (collection: string, document: string, page: number) =>
  useChange(
    async (body: Corrections) =>
      given(
        await api.PUT("/collections/{collection}/documents/{document}/pages/{page}/corrections", {
          params: { path: { collection, document, page } },
          body,
        }),
      ),
    "page",
    "corrections",
    "findings",
    "documents",
  )

// useTrace asks a question again, and how its answer came about.
export const useTrace = (collection: string, asked: Asked) =>
  useQuery({
    queryKey: ["trace", collection, asked],
    queryFn: async () =>
      given(
        await api.POST("/collections/{collection}/ask", {
          params: { path: { collection } },
          body: { question: asked.question, after: asked.after, ...asked.scope, trace: true },
        }),
      ) as Answer,
    staleTime: 60_000,
  })

export const useConversations = (collection: string) =>
  useQuery({
    queryKey: ["conversations", collection],
    queryFn: async () =>
      given(await api.GET("/collections/{collection}/conversations", { params: { path: { collection } } })).conversations,
  })

export const useConversation = (collection: string, conversation: string) =>
  useQuery({
    queryKey: ["conversation", collection, conversation],
    queryFn: async () =>
      given(
        await api.GET("/collections/{collection}/conversations/{conversation}", {
          params: { path: { collection, conversation } },
        }),
      ) as Schemas["Conversation"],
    enabled: conversation !== "",
    staleTime: Infinity,
  })

export const useFind = (collection: string, query: string, top: number, scope: Scope) =>
  useQuery({
    queryKey: ["find", collection, query, top, scope],
    queryFn: async () =>
      given(
        await api.GET("/collections/{collection}/find", {
          params: { path: { collection }, query: { query, top, explain: true, tag: scope.tags, document: scope.documents } },
        }),
      ),
    enabled: query !== "",
    staleTime: 60_000,
  })

// useList lists what some documents have of a kind.
export const useList = (collection: string, of: string, scope: Scope) =>
  useQuery({
    queryKey: ["list", collection, of, scope],
    queryFn: async () =>
      given(
        await api.GET("/collections/{collection}/list", {
          params: { path: { collection }, query: { of, tag: scope.tags, document: scope.documents } },
        }),
      ) as Schemas["List"],
    enabled: of !== "",
    staleTime: 60_000,
  })

export const useRemoveConversation = (collection: string) =>
  useChange(
    async (conversation: string) =>
      given(
        await api.DELETE("/collections/{collection}/conversations/{conversation}", {
          params: { path: { collection, conversation } },
        }),
      ),
    "conversations",
  )

export const useGlossary = (collection: string) =>
  useQuery({
    queryKey: ["glossary", collection],
    queryFn: async () =>
      given(await api.GET("/collections/{collection}/glossary", { params: { path: { collection } } })) as Schemas["Glossary"],
  })

export const useStyle = (collection: string) =>
  useQuery({
    queryKey: ["style", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/style", { params: { path: { collection } } })),
  })

// useChange runs a change and has the lists it may have touched asked anew.
export function useChange<In, Out>(change: (input: In) => Promise<Out>, ...touched: string[]) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: change,
    onSuccess: () => Promise.all(touched.map((key) => queries.invalidateQueries({ queryKey: [key] }))),
  })
}

export const useCreateCollection = () =>
  useChange(async (name: string) => given(await api.POST("/collections", { body: { name } })), "collections")

export const useRemoveCollection = () =>
  useChange(
    async (collection: string) =>
      given(await api.DELETE("/collections/{collection}", { params: { path: { collection } } })),
    "collections",
  )

export const useRemoveDocument = (collection: string) =>
  useChange(
    async (document: string) =>
      given(
        await api.DELETE("/collections/{collection}/documents/{document}", { params: { path: { collection, document } } }),
      ),
    "documents",
    "collections",
    "bin",
  )

export const useBin = (collection: string, enabled: boolean) =>
  useQuery({
    queryKey: ["bin", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/bin", { params: { path: { collection } } })).removed ?? [],
    enabled,
  })

export const useRestoreDocument = (collection: string) =>
  useChange(
    async (document: string) =>
      given(await api.POST("/collections/{collection}/bin/{document}", { params: { path: { collection, document } } })),
    "documents",
    "collections",
    "bin",
  )

export const usePurgeDocument = (collection: string) =>
  useChange(
    async (document: string) =>
      given(await api.DELETE("/collections/{collection}/bin/{document}", { params: { path: { collection, document } } })),
    "bin",
  )

export const useSetTags = (collection: string) =>
  useChange(
    async ({ document, tags }: { document: string; tags: string[] }) =>
      given(
        await api.PUT("/collections/{collection}/documents/{document}/tags", {
          params: { path: { collection, document } },
          body: { tags },
        }),
      ),
    "documents",
  )

export const useSetGlossary = (collection: string) =>
  useChange(
    async (entries: Schemas["GlossaryEntry"][]) =>
      given(await api.PUT("/collections/{collection}/glossary", { params: { path: { collection } }, body: { entries } })),
    "glossary",
  )

export const useLessons = (collection: string) =>
  useQuery({
    queryKey: ["lessons", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/lessons", { params: { path: { collection } } })).lessons,
  })

export const useTeach = (collection: string) =>
  useChange(
    async (lessons: Schemas["Lesson"][]) =>
      given(await api.POST("/collections/{collection}/lessons", { params: { path: { collection } }, body: { lessons } })),
    "lessons",
    "trace",
  )

export const useForget = (collection: string) =>
  useChange(
    async (lesson: string) =>
      given(await api.DELETE("/collections/{collection}/lessons/{lesson}", { params: { path: { collection, lesson } } })),
    "lessons",
    "trace",
  )

export const useSetStyle = (collection: string) =>
  useChange(
    async (style: Schemas["Style"]) =>
      given(await api.PUT("/collections/{collection}/style", { params: { path: { collection } }, body: style })),
    "style",
  )

// useCollection is one of the collections, with the caller's right in it.
export const useCollection = (collection: string) => useCollections().data?.find((c) => c.name === collection)

// useEdits tells whether the caller may change documents in a collection.
export function useEdits(collection: string) {
  const right = useCollection(collection)?.right
  return right !== undefined && right !== "reader"
}

// useOwns tells whether the caller may do everything in a collection.
export function useOwns(collection: string) {
  const right = useCollection(collection)?.right
  return right === "owner" || right === "administrator"
}
