package table

import (
	"regexp"
	"slices"
	"strings"

	"jardinet/text"
)

// asked are the words that ask for an operation, in English, French and German. What is asked of
// which table and column is not in them: that is decided by what the question means.
var asked = []struct {
	op    Operation
	words *regexp.Regexp
}{
	{Change, words(`percentage (?:did|has|have|of change)`, `how much (?:per cent|percent)`, `by how many per cent`, `change[ds]? (?:in per cent|by)`, `de combien de pour cent`, `um wie viel prozent`)},
	{Difference, words(`difference`, `how (?:much|many) (?:more|less|fewer|higher|lower|larger|smaller|longer|shorter)`, `more than .* by`, `différence`, `combien .* de plus`, `unterschied`, `wie viele? .* mehr`)},
	{Mean, words(`average`, `the mean`, `on average`, `moyenne`, `durchschnitt`, `durchschnittlich`, `im mittel`)},
	{Sum, words(`total`, `sum`, `altogether`, `in all`, `in total`, `together`, `overall`, `combined`, `au total`, `en tout`, `somme`, `insgesamt`, `zusammen`, `summe`, `gesamt`)},
	{Smallest, words(`least`, `fewest`, `lowest`, `smallest`, `shortest`, `lightest`, `earliest`, `oldest`, `cheapest`, `slowest`, `narrowest`, `youngest`, `coldest`, `le moins`, `la moins`, `le plus bas`, `la plus basse`, `am wenigsten`, `niedrigste[nrs]?`, `kleinste[nrs]?`)},
	{Largest, words(`most`, `highest`, `largest`, `biggest`, `greatest`, `tallest`, `longest`, `heaviest`, `latest`, `newest`, `fastest`, `widest`, `hottest`, `warmest`, `dearest`, `strongest`, `deepest`, `le plus`, `la plus`, `les plus`, `am meisten`, `höchste[nrs]?`, `größte[nrs]?`)},
	{Smallest, words(`minimum`)}, // which may be the name of a column as well
	{Largest, words(`maximum`)},
	{Count, words(`how many`, `number of`, `combien de`, `wie viele`)},
}

func words(all ...string) *regexp.Regexp {
	return regexp.MustCompile(`(?i)(?:^|[^\pL])(?:` + strings.Join(all, "|") + `)(?:$|[^\pL])`)
}

// Asked returns the operation that a question asks for, empty if it asks for none. What only counts
// is asked for by "how many", which may ask for a number that stands somewhere as well.
func Asked(question string) Operation {
	for _, a := range asked {
		if a.words.MatchString(question) {
			return a.op
		}
	}
	return ""
}

// Named returns the rows whose words a question names: of each column of words the cells that stand
// in it, as they are or in the singular or plural. Rows that several columns name are those that
// have all of it; rows of one column are those that have any.
func (t *Table) Named(question string, language text.Language) []int {
	stemmer := text.NewStemmer(language)
	said := " " + strings.Join(stemmer.Content(question), " ") + " "
	var out []int
	limited := false
	for column := range t.Columns {
		if t.Columns[column].Kind == Number {
			continue
		}
		var rows []int
		for i, row := range t.Rows {
			if key := strings.Join(stemmer.Content(row[column].Text), " "); key != "" && strings.Contains(said, " "+key+" ") && !t.IsTotal(i) {
				rows = append(rows, i)
			}
		}
		if rows = longest(t, column, rows, stemmer); len(rows) == 0 || len(rows) == len(t.Rows) {
			continue
		}
		if !limited {
			out, limited = rows, true
			continue
		}
		if both := slices.DeleteFunc(slices.Clone(out), func(i int) bool { return !slices.Contains(rows, i) }); len(both) > 0 {
			out = both
		}
	}
	return out
}

// longest leaves out rows whose words are part of another's that the question names too: "Palm House"
// and not "House".
func longest(t *Table, column int, rows []int, stemmer *text.Stemmer) []int {
	key := func(i int) string { return strings.Join(stemmer.Content(t.Rows[i][column].Text), " ") }
	return slices.DeleteFunc(slices.Clone(rows), func(i int) bool {
		return slices.ContainsFunc(rows, func(j int) bool { return len(key(j)) > len(key(i)) && strings.Contains(" "+key(j)+" ", " "+key(i)+" ") })
	})
}

// Says describes a column for comparing with a question: what the table is called, what its rows
// are, and the column's name.
func (t *Table) Says(column int) string {
	rows := ""
	for _, c := range t.Columns {
		if c.Kind != Number && c.Name != "" {
			rows = c.Name
			break
		}
	}
	section := ""
	if n := len(t.Section); n > 0 && t.Section[n-1] != t.Title {
		section = t.Section[n-1] + ", "
	}
	return strings.TrimSpace(section + t.Title + ": " + t.Columns[column].Name + " by " + strings.ToLower(rows))
}

// Without returns a question without the words by which it names rows, which tell nothing of the
// column.
func (t *Table) Without(question string, rows []int) string {
	for _, i := range rows {
		for c, cell := range t.Rows[i] {
			if t.Columns[c].Kind == Number || len(cell.Text) < 3 {
				continue
			}
			pattern := regexp.MustCompile(`(?i)(^|[^\pL])(?:the )?` + regexp.QuoteMeta(strings.TrimSuffix(cell.Text, "s")) + `s?($|[^\pL])`)
			question = pattern.ReplaceAllString(question, "$1$2")
		}
	}
	return question
}

// Shared is the share of the words of a column's name that a question has, but for those by which it
// names rows, and of the word that says what the rows are.
func (t *Table) Shared(column int, question string, rows []int, language text.Language) (name, of float64) {
	stemmer := text.NewStemmer(language)
	said := stems(stemmer, t.Without(question, rows))
	for _, c := range t.Columns {
		if c.Kind != Number && c.Name != "" {
			of = share(stems(stemmer, c.Name), stems(stemmer, question))
			break
		}
	}
	return share(stems(stemmer, t.Columns[column].Name), said), of
}

func stems(stemmer *text.Stemmer, s string) (out []string) {
	for _, t := range text.Tokens(s) {
		out = append(out, stemmer.Stem(t.Word))
	}
	return out
}

// share is the share of some words that others have.
func share(words, among []string) float64 {
	n := 0
	for _, w := range words {
		if slices.Contains(among, w) {
			n++
		}
	}
	return float64(n) / float64(max(len(words), 1))
}
