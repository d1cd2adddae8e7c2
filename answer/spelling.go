package answer

import (
	"strings"

	"jardinet/text"
)

// askingWords tell what kind of answer a question asks for, so a slip in one of
// them matters more than in others, which the index makes good.
var askingWords = words(`temperature humidity minimum maximum height weight distance length width depth pressure percentage number
	volume capacity speed price interval concentration duration frequency dimension colour telephone address salary
	where which when whose many often quickly happens difference between procedure steps reason month combien quelle pourquoi`)

// respelt returns a question with its asking words spelt right. Words that are
// known are left alone.
func respelt(question string, known func(word string) bool) string {
	out, end := "", 0
	for _, t := range text.Tokens(question) {
		letters := []rune(t.Word)
		most := text.EditsAllowed(len(letters))
		if askingWords[t.Word] || most == 0 || strings.ContainsAny(t.Word, "0123456789") || known(t.Word) {
			continue
		}
		right, least := "", most+1
		for word := range askingWords {
			if d := text.Edits(letters, []rune(word)); d < least || d == least && word < right {
				right, least = word, d
			}
		}
		if least <= most {
			out += question[end:t.Start] + right
			end = t.End
		}
	}
	return out + question[end:]
}
