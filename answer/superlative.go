package answer

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"jardinet/layout"
	"jardinet/passage"
	"jardinet/text"
)

// A superlative asks for the row of a table in which a number is the greatest, or
// the least, of all: what it measures stands in the name of the column.
type superlative struct {
	word      string
	direction float64        // 1 for the greatest, −1 for the least
	measure   *regexp.Regexp // may be nil
}

var (
	asksWhichOne = regexp.MustCompile(`^(?:and |but |so |in |of |at |from )*(?:which|what|who|where|when)\b`)
	costs        = regexp.MustCompile(`(?i)[£€$]|\b(?:price|fare|cost|fee)s?\b`)

	superlatives = []superlative{
		{"most", 1, nil}, {"highest", 1, nil}, {"greatest", 1, nil}, {"largest", 1, measured["large"]}, {"biggest", 1, measured["big"]},
		{"longest", 1, measured["long"]}, {"heaviest", 1, measured["heavy"]}, {"hottest", 1, measured["hot"]}, {"warmest", 1, measured["warm"]},
		{"fastest", 1, measured["fast"]}, {"deepest", 1, measured["deep"]}, {"tallest", 1, measured["tall"]}, {"dearest", 1, costs},
		{"least", -1, nil}, {"fewest", -1, nil}, {"lowest", -1, nil}, {"smallest", -1, measured["large"]}, {"shortest", -1, measured["long"]},
		{"lightest", -1, measured["heavy"]}, {"coldest", -1, measured["cold"]}, {"slowest", -1, measured["fast"]}, {"cheapest", -1, costs},
	}
)

// superlativeOf returns the superlative of a question for the one thing that it is
// true of, nil if there is none. "At most" asks for a bound.
func superlativeOf(folded string) *superlative {
	if !asksWhichOne.MatchString(folded) {
		return nil
	}
	words := strings.Fields(folded)
	for i := range superlatives {
		if at := slices.Index(words, superlatives[i].word); at > 0 && words[at-1] != "at" {
			return &superlatives[i]
		}
	}
	return nil
}

// fewestRows is how many rows with a number a table has at least for one of them to
// be its greatest.
const fewestRows = 3

// A column of numbers may go on over several passages of one section.
type column struct {
	best float64 // times the direction
	rows int
}

// columns looks at the columns of numbers that a superlative is about, by
// document, section and name.
func (m *matcher) columns(asked *superlative, candidates []Candidate) map[string]*column {
	out := map[string]*column{}
	for i := range candidates {
		key, numbers := m.numbers(asked, &candidates[i])
		for _, n := range numbers {
			if math.IsNaN(n) {
				continue
			}
			if out[key] == nil {
				out[key] = &column{best: math.Inf(-1)}
			}
			out[key].best = max(out[key].best, n)
			out[key].rows++
		}
	}
	return out
}

// extremes tells of each sentence of a passage whether it is the row with the
// greatest number (1) or another row with one (−1).
func (m *matcher) extremes(asked *superlative, c *Candidate) []float64 {
	out := make([]float64, len(c.Passage.Sentences))
	key, numbers := m.numbers(asked, c)
	all := m.table[key]
	if all == nil || all.rows < fewestRows {
		return out
	}
	for i, n := range numbers {
		switch {
		case math.IsNaN(n):
		case n == all.best:
			out[i] = 1
		default:
			out[i] = -1
		}
	}
	return out
}

// numbers returns, for each sentence of a passage, the number in the column that
// is asked about, times the direction, NaN for none; and a name for that column.
func (m *matcher) numbers(asked *superlative, c *Candidate) (key string, out []float64) {
	p := c.Passage
	name := m.columnOf(asked, p)
	out = make([]float64, len(p.Sentences))
	for i, s := range p.Sentences {
		out[i] = math.NaN()
		if row := p.Text[s.Start:s.End]; name != "" && s.Kind == layout.Table && !isTotal(row) {
			if n, ok := numbersOf(row)[name]; ok {
				out[i] = asked.direction * n
			}
		}
	}
	return c.DocumentID + "\n" + p.SectionPath() + "\n" + name, out
}

// columnOf returns the name of the column of numbers that shares most with the
// question, or that is the only one; "" if none does.
func (m *matcher) columnOf(asked *superlative, p *passage.Passage) string {
	worths := map[string]float64{}
	for _, s := range p.Sentences {
		if s.Kind != layout.Table {
			continue
		}
		for name := range numbersOf(p.Text[s.Start:s.End]) {
			if _, known := worths[name]; known {
				continue
			}
			worths[name] = m.worthOf(m.marks(name, p.Language).any())
			if asked.measure != nil && asked.measure.MatchString(name) {
				worths[name] += m.total
			}
		}
	}
	best, most := "", 0.0
	for name, worth := range worths {
		if worth > most || worth == most && (worth > 0 && name < best || len(worths) == 1) {
			best, most = name, worth
		}
	}
	return best
}

// leadingNumber matches the number that a cell is or begins with.
var leadingNumber = regexp.MustCompile(`^[£€$]?\s?([-−]?\d[\d,]*(?:\.\d+)?)`)

// numbersOf returns the numbers in the cells of a row by the names of their columns.
func numbersOf(row string) map[string]float64 {
	out := map[string]float64{}
	for _, cell := range strings.Split(row, " · ") {
		name, value, named := strings.Cut(cell, ": ")
		if m := leadingNumber.FindStringSubmatch(value); named && m != nil {
			if n, err := strconv.ParseFloat(strings.ReplaceAll(strings.ReplaceAll(m[1], ",", ""), "−", "-"), 64); err == nil {
				out[name] = n
			}
		}
	}
	return out
}

// isTotal tells whether a row sums the others up.
func isTotal(row string) bool {
	name, _, _ := strings.Cut(row, " · ")
	for _, t := range text.Tokens(name) {
		if totals[t.Word] {
			return true
		}
	}
	return false
}
