import type { Answer } from "../../api/client"
import { t } from "../../words"

// sure says in words how sure an answer is.
export function sure({ confidence, state, taught }: Answer): string {
  if (taught) return t("Somebody has shown where this stands.")
  if (state === "partial") return t("This answers a part of the question. Check it on the page.")
  if (confidence >= 0.9) return t("The document says so in plain words.")
  if (confidence >= 0.75) return t("Fairly sure. A look at the page settles it.")
  return t("Not very sure. Check it on the page before you rely on it.")
}
