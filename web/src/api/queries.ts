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

export const usePage = (collection: string, document: string, page: number) =>
  useQuery({
    queryKey: ["page", collection, document, page],
    queryFn: async () =>
      given(
        await api.GET("/collections/{collection}/documents/{document}/pages/{page}", {
          params: { path: { collection, document, page } },
        }),
      ),
    staleTime: Infinity,
  })

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

// useAnswer asks a question once; the same question in the same conversation
// is shown again without asking.
export const useAnswer = (collection: string, asked: Asked, enabled = true) =>
  useQuery({
    queryKey: ["answer", collection, asked],
    queryFn: async () =>
      given(
        await api.POST("/collections/{collection}/ask", {
          params: { path: { collection } },
          body: { question: asked.question, after: asked.after, ...asked.scope },
        }),
      ) as Answer,
    staleTime: 60_000,
    enabled,
  })

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

// useOpenConversation fetches a conversation when somebody wants to go on with it.
export const useOpenConversation = (collection: string) =>
  useMutation({
    mutationFn: async (conversation: string) =>
      given(
        await api.GET("/collections/{collection}/conversations/{conversation}", {
          params: { path: { collection, conversation } },
        }),
      ) as Schemas["Conversation"],
  })

// useKeep asks questions again, one after another, so that they are kept in a
// conversation: a new one, or one that there is. It gives the conversation's id.
export const useKeep = (collection: string) =>
  useChange(
    async ({ questions, scope, conversation }: { questions: string[]; scope: Scope; conversation?: string }) => {
      let id = conversation ?? "new"
      for (const question of questions) {
        const answer = given(
          await api.POST("/collections/{collection}/ask", {
            params: { path: { collection } },
            body: { question, ...scope, conversation: id },
          }),
        ) as Answer
        id = answer.conversation ?? id
      }
      return id
    },
    "conversations",
  )

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
    "answer",
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
    "answer",
  )

export const useAddDocuments = (collection: string) =>
  useChange(async (files: File[]) => {
    const form = new FormData()
    for (const file of files) form.append("file", file, file.name)
    return given(
      await api.POST("/collections/{collection}/documents", {
        params: { path: { collection } },
        body: {} as { file?: string[] },
        bodySerializer: () => form,
      }),
    )
  }, "collections")

export const useSetGlossary = (collection: string) =>
  useChange(
    async (entries: Schemas["GlossaryEntry"][]) =>
      given(await api.PUT("/collections/{collection}/glossary", { params: { path: { collection } }, body: { entries } })),
    "glossary",
    "answer",
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
    "answer",
    "trace",
  )

export const useForget = (collection: string) =>
  useChange(
    async (lesson: string) =>
      given(await api.DELETE("/collections/{collection}/lessons/{lesson}", { params: { path: { collection, lesson } } })),
    "lessons",
    "answer",
    "trace",
  )

export const useSetStyle = (collection: string) =>
  useChange(
    async (style: Schemas["Style"]) =>
      given(await api.PUT("/collections/{collection}/style", { params: { path: { collection } }, body: style })),
    "style",
    "answer",
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
