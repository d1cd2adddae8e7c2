package text

// From how many letters on a word may be taken for another that differs from it by
// one letter, and by two.
const (
	oneEdit  = 5
	twoEdits = 8
)

// EditsAllowed returns by how many letters a word of some length may differ from
// what it is taken for.
func EditsAllowed(letters int) int {
	switch {
	case letters >= twoEdits:
		return 2
	case letters >= oneEdit:
		return 1
	}
	return 0
}

// Edits counts the letters by which two words differ: one more, one less, another,
// or two swapped (Damerau 1964).
func Edits(a, b []rune) int {
	rows := [][]int{FirstEditRow(len(a))}
	for depth := range b {
		rows = append(rows, EditRow(rows, a, b, depth))
	}
	return rows[len(b)][len(a)]
}

// FirstEditRow returns the distances of the beginnings of a word of n letters from
// the empty word.
func FirstEditRow(n int) []int {
	row := make([]int, n+1)
	for j := range row {
		row[j] = j
	}
	return row
}

// EditRow returns the distances of the beginnings of a word from those depth+1
// letters of a term, given the rows for fewer of them. Terms that begin alike share
// rows.
func EditRow(rows [][]int, word, term []rune, depth int) []int {
	last := rows[depth]
	row := make([]int, len(last))
	row[0] = depth + 1
	for j := 1; j <= len(word); j++ {
		cost := 1
		if word[j-1] == term[depth] {
			cost = 0
		}
		row[j] = min(last[j]+1, row[j-1]+1, last[j-1]+cost)
		if j > 1 && depth > 0 && word[j-1] == term[depth-1] && word[j-2] == term[depth] {
			row[j] = min(row[j], rows[depth-1][j-2]+1)
		}
	}
	return row
}
