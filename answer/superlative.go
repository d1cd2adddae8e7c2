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

// greatest tells of each sentence of each candidate whether it is the row with the
// greatest number of its column (1) or another row with one (−1).
func (m *matcher) greatest(asked *superlative, candidates []Candidate) [][]float64 {
	columns := map[string]*column{} // by document, section and name
	keys, out := make([]string, len(candidates)), make([][]float64, len(candidates))
	for i, c := range candidates {
		name, numbers := m.numbers(asked, c.Passage)
		keys[i], out[i] = c.DocumentID+"\n"+c.Passage.SectionPath()+"\n"+name, numbers
		for _, n := range numbers {
			if math.IsNaN(n) {
				continue
			}
			if columns[keys[i]] == nil {
				columns[keys[i]] = &column{best: math.Inf(-1)}
			}
			columns[keys[i]].best = max(columns[keys[i]].best, n)
			columns[keys[i]].rows++
		}
	}
	for i, numbers := range out {
		all := columns[keys[i]]
		for k, n := range numbers {
			switch {
			case math.IsNaN(n) || all.rows < fewestRows:
				numbers[k] = 0
			case n == all.best:
				numbers[k] = 1
			default:
				numbers[k] = -1
			}
		}
	}
	return out
}

// numbers returns the name of the column that is asked about and, for each sentence
// of a passage, its number there times the direction, NaN for none.
func (m *matcher) numbers(asked *superlative, p *passage.Passage) (name string, out []float64) {
	rows := make([]map[string]float64, len(p.Sentences))
	for i, s := range p.Sentences {
		if s.Kind == layout.Table {
			rows[i] = numbersOf(p.Text[s.Start:s.End])
		}
	}
	name = m.columnOf(asked, rows, p.Language)
	out = make([]float64, len(rows))
	for i, s := range p.Sentences {
		out[i] = math.NaN()
		if n, ok := rows[i][name]; ok && name != "" && !isTotal(p.Text[s.Start:s.End]) {
			out[i] = asked.direction * n
		}
	}
	return name, out
}

// columnOf returns the name of the column of numbers that shares most with the
// question, or that is the only one; "" if none does.
func (m *matcher) columnOf(asked *superlative, rows []map[string]float64, language text.Language) string {
	worths := map[string]float64{}
	for _, row := range rows {
		for name := range row {
			if _, known := worths[name]; known {
				continue
			}
			worths[name] = m.worthOf(m.marks(name, language).any())
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
