import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"

import { api, given, type Schemas } from "./client"
import { useChange } from "./queries"

export type Session = Schemas["Session"]
export type Right = Schemas["Right"]

export const useSession = () => useQuery({ queryKey: ["session"], queryFn: async () => given(await api.GET("/session")) })

// isIn tells whether somebody is signed in, or need not be.
export const isIn = (session: Session) => Boolean(session.name) || session.kind === "open"

type Credentials = { name: string; passphrase: string }

// useSignIn begins a session; everything that was known of before is forgotten, since it may
// have been somebody else's.
export function useSignIn() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: async (body: Credentials) => given(await api.POST("/session", { body })),
    onSuccess: () => queries.resetQueries(),
  })
}

export function useSignOut() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: async () => given(await api.DELETE("/session")),
    onSuccess: () => queries.resetQueries(),
  })
}

// useBegin makes the first administrator with the secret of the link, and signs them in.
export function useBegin() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: async ({ secret, ...who }: Credentials & { secret: string }) => {
      given(await api.POST("/people", { body: { ...who, administrator: true }, headers: { Authorization: `Bearer ${secret}` } }))
      return given(await api.POST("/session", { body: who }))
    },
    onSuccess: () => queries.resetQueries(),
  })
}

export const useSetPassphrase = () =>
  useChange(async (body: { current: string; new: string }) => given(await api.PUT("/session/passphrase", { body })), "session")

export const usePeople = () => useQuery({ queryKey: ["people"], queryFn: async () => given(await api.GET("/people")).people })

export const useAddPerson = () =>
  useChange(async (body: Schemas["NewPerson"]) => given(await api.POST("/people", { body })), "people")

export const useChangePerson = () =>
  useChange(
    async ({ person, ...body }: { person: string; administrator?: boolean; passphrase?: string }) =>
      given(await api.PATCH("/people/{person}", { params: { path: { person } }, body })),
    "people",
  )

export const useRemovePerson = () =>
  useChange(async (person: string) => given(await api.DELETE("/people/{person}", { params: { path: { person } } })), "people", "rights")

export const useKeys = () => useQuery({ queryKey: ["keys"], queryFn: async () => given(await api.GET("/keys")).keys })

export const useCreateKey = () => useChange(async (body: Schemas["NewKey"]) => given(await api.POST("/keys", { body })), "keys", "rights")

export const useRevokeKey = () =>
  useChange(async (key: string) => given(await api.DELETE("/keys/{key}", { params: { path: { key } } })), "keys", "rights")

export const useRights = (collection: string) =>
  useQuery({
    queryKey: ["rights", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/rights", { params: { path: { collection } } })).rights,
  })

export const useSetRight = (collection: string) =>
  useChange(
    async ({ holder, right }: { holder: string; right: Right | "" }) =>
      given(await api.PUT("/collections/{collection}/rights/{holder}", { params: { path: { collection, holder } }, body: { right } })),
    "rights",
    "people",
    "keys",
  )

export const useSetSharing = (collection: string) =>
  useChange(
    async (body: Schemas["Sharing"]) =>
      given(await api.PUT("/collections/{collection}/sharing", { params: { path: { collection } }, body })),
    "collections",
  )

export const useAudit = (who: string, collection: string) =>
  useQuery({
    queryKey: ["audit", who, collection],
    queryFn: async () =>
      (
        given(await api.GET("/audit", { params: { query: { top: 200, who: who || undefined, collection: collection || undefined } } })) as {
          entries: Schemas["AuditEntry"][]
        }
      ).entries,
  })

export function useVerifyAudit() {
  return useMutation({ mutationFn: async () => given(await api.POST("/audit/verify")) })
}
