import type { Schemas } from "../../api/client"
import { day, t } from "../../words"

// may says in words what somebody has the right to.
export function may(who: { administrator: boolean; rights: Schemas["Rights"] }) {
  if (who.administrator) return t("Administrator: everything")
  const rights = Object.entries(who.rights).map(([collection, right]) => inCollection(right, collection))
  return rights.length > 0 ? rights.join(", ") : t("No right yet; a collection’s settings give one")
}

// inCollection says what right somebody has in a collection.
export function inCollection(right: Schemas["Right"], collection: string): string {
  if (right === "reader") return t("reader of {collection}", { collection })
  return right === "editor" ? t("editor of {collection}", { collection }) : t("owner of {collection}", { collection })
}

// since says on which day something was, if ever.
export const since = (at?: string) => (at ? day(at) : t("never"))
