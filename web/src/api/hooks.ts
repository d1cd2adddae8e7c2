import { useQuery } from "@tanstack/react-query"

import { api, given, type Schemas } from "./client"
import { useChange } from "./queries"

export type HookEvent = Schemas["HookEvent"]

export const useHooks = (collection: string) =>
  useQuery({
    queryKey: ["hooks", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/hooks", { params: { path: { collection } } })),
    refetchInterval: 10_000,
  })

// useSetHook has a program told of some events, and of none no longer.
export const useSetHook = (collection: string) =>
  useChange(async ({ hook, events }: { hook: string; events: HookEvent[] }) => {
    const params = { path: { collection, hook } }
    if (events.length === 0) return given(await api.DELETE("/collections/{collection}/hooks/{hook}", { params }))
    return given(await api.PUT("/collections/{collection}/hooks/{hook}", { params, body: { events } }))
  }, "hooks")
