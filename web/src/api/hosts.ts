import { useQuery } from "@tanstack/react-query"

import { api, given, type Schemas } from "./client"

export type Hosts = Schemas["Hosts"]
export type Host = Schemas["Host"]

// useHosts looks at the hosts again every two seconds.
export const useHosts = () => useQuery({ queryKey: ["hosts"], queryFn: async () => given(await api.GET("/hosts")) as Hosts, refetchInterval: 2000 })
