import { t } from "../../words"

// The places where a question can be lost, in the order of the way from the page to the answer,
// with what to do about each.
export const causes: [code: string, name: string, advice: string][] = [
  ["evidence gone", t("evidence gone"), t("The expected page is not in the collection. Look the question’s evidence over.")],
  ["not read from the page", t("not read from the page"), t("The words that answer are not in what was read. Look at the page’s findings, and correct it.")],
  ["cut apart", t("cut apart"), t("The words stand in no passage as a whole. Try longer passages, or more overlap.")],
  ["not retrieved", t("not retrieved"), t("The passage is not among the first hundred. Try other retrieval, or teach the glossary the readers’ words.")],
  ["ranked too low", t("ranked too low"), t("The passage was found and not read. Try reading more passages.")],
  ["evidence passed over", t("evidence passed over"), t("The passage was read, and another preferred. Look at both; teach the answer if it matters.")],
  ["wrong span", t("wrong span"), t("The sentence shown holds the answer; the words put first do not.")],
  ["wrongly refused", t("wrongly refused"), t("The right passage came first and was not sure enough. A lower threshold would give it, and wrong ones too.")],
  ["citation wrong", t("citation wrong"), t("The answer is right, and what it cites does not say it.")],
  ["proved elsewhere", t("proved elsewhere"), t("The answer is right, by a page that the set does not name. Add that page to the question’s evidence.")],
  ["should have refused", t("should have refused"), t("The documents do not say, and yet there was an answer. A higher threshold would refuse.")],
]

// causeName is a cause in the reader's language.
export const causeName = (code: string) => causes.find(([one]) => one === code)?.[1] ?? code
