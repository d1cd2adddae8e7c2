// The places where a question can be lost, in the order of the way from the page to the answer,
// with what to do about each.
export const causes: [name: string, advice: string][] = [
  ["evidence gone", "The expected page is not in the collection. Look the question’s evidence over."],
  ["not read from the page", "The words that answer are not in what was read. Look at the page’s findings, and correct it."],
  ["cut apart", "The words stand in no passage as a whole. Try longer passages, or more overlap."],
  ["not retrieved", "The passage is not among the first hundred. Try other retrieval, or teach the glossary the readers’ words."],
  ["ranked too low", "The passage was found and not read. Try reading more passages."],
  ["evidence passed over", "The passage was read, and another preferred. Look at both; teach the answer if it matters."],
  ["wrong span", "The sentence shown holds the answer; the words put first do not."],
  ["wrongly refused", "The right passage came first and was not sure enough. A lower threshold would give it, and wrong ones too."],
  ["citation wrong", "The answer is right, and what it cites does not say it."],
  ["proved elsewhere", "The answer is right, by a page that the set does not name. Add that page to the question’s evidence."],
  ["should have refused", "The documents do not say, and yet there was an answer. A higher threshold would refuse."],
]
