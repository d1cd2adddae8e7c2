import type { Schemas } from "../../api/client"
import { day, t } from "../../words"

// may says in words what somebody has the right to.
export function may(who: { administrator: boolean; rights: Schemas["Rights"] }) {
  if (who.administrator) return t("Administrator: everything")
  const rights = Object.entries(who.rights).map(([collection, right]) => t("{right} of {collection}", { right: t(right), collection }))
  return rights.length > 0 ? rights.join(", ") : t("No right yet; a collection’s settings give one")
}

// since says on which day something was, if ever.
export const since = (at?: string) => (at ? day(at) : t("never"))
