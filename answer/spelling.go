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

// From how many letters on a word may differ from an asking word by one letter,
// and by two.
const (
	oneSlip  = 5
	twoSlips = 8
)

// respelt returns a question with its asking words spelt right. Words that are
// known are left alone.
func respelt(question string, known func(word string) bool) string {
	out, end := "", 0
	for _, t := range text.Tokens(question) {
		if askingWords[t.Word] || len(t.Word) < oneSlip || strings.ContainsAny(t.Word, "0123456789") || known(t.Word) {
			continue
		}
		most := 1
		if len(t.Word) >= twoSlips {
			most = 2
		}
		right, least := "", most+1
		for word := range askingWords {
			if d := slips([]rune(t.Word), []rune(word)); d < least || d == least && word < right {
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

// slips counts the letters by which two words differ: one more, one less, another,
// or two swapped (Damerau 1964).
func slips(a, b []rune) int {
	rows := [3][]int{make([]int, len(b)+1), make([]int, len(b)+1), make([]int, len(b)+1)}
	for j := range rows[1] {
		rows[1][j] = j
	}
	for i := 1; i <= len(a); i++ {
		before, last, row := rows[0], rows[1], rows[2]
		row[0] = i
		for j := 1; j <= len(b); j++ {
			cost := 1
			if a[i-1] == b[j-1] {
				cost = 0
			}
			row[j] = min(last[j]+1, row[j-1]+1, last[j-1]+cost)
			if i > 1 && j > 1 && a[i-1] == b[j-2] && a[i-2] == b[j-1] {
				row[j] = min(row[j], before[j-2]+1)
			}
		}
		rows = [3][]int{last, row, before}
	}
	return rows[1][len(b)]
}
