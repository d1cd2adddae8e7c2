import type { Scope } from "../../api/client"

// scopeIn is the scope that an address names.
export const scopeIn = (search: URLSearchParams): Scope => ({ tags: search.getAll("tag"), documents: search.getAll("document") })

// withScope adds a scope to what else an address names.
export function withScope(others: Record<string, string>, scope: Scope): URLSearchParams {
  const out = new URLSearchParams(others)
  for (const tag of scope.tags) out.append("tag", tag)
  for (const document of scope.documents) out.append("document", document)
  return out
}
