package questionset

import (
	"slices"

	"jardinet/measure"
	"jardinet/text"
)

// Bears tells whether pages, as pdftotext reads them, hold an accepted wording
// of a question's answer or at least two thirds of the words of the answer. It
// finds slips in a question set; it does not replace reading.
func Bears(pages string, q *measure.Question) bool {
	if slices.ContainsFunc(q.Accept, func(a string) bool { return text.Contains(pages, a) }) {
		return true
	}
	there := map[string]bool{}
	for _, t := range text.Tokens(pages) {
		there[t.Word] = true
	}
	found, all := 0, 0
	for _, t := range text.Tokens(q.Answer) {
		if text.IsFunctionWord(t.Word, text.English) {
			continue
		}
		all++
		if there[t.Word] {
			found++
		}
	}
	// "No" and "yes" alone are read out of a page, not found on it.
	return found*3 >= all*2 || all <= 1
}
