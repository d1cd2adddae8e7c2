import { t } from "../../words"

const names: Record<string, string> = {
  "page recall@1": t("page recall@1"),
  "page recall@5": t("page recall@5"),
  "page recall@10": t("page recall@10"),
  MRR: "MRR",
  "nDCG@10": "nDCG@10",
  "short answer right": t("short answer right"),
  "right, page cited": t("right, page cited"),
  "wrong of those given": t("wrong of those given"),
  "refusals right": t("refusals right"),
  "refusals wrong": t("refusals wrong"),
  "as they should": t("come out as they should"),
}

// figureName is a figure's name in the reader's language.
export const figureName = (name: string) => names[name] ?? name
