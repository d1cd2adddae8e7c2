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
	adjective
	of string // the word after it, of which the most is asked; may be empty
}

// An adjective says what is compared, and how.
type adjective struct {
	word      string
	direction float64        // 1 for the greatest, −1 for the least
	measure   *regexp.Regexp // may be nil
}

var (
	asksWhichOne = regexp.MustCompile(`^(?:and |but |so |in |of |at |from )*(?:which|what|who|where|when)\b`)
	asksPrice    = regexp.MustCompile(`\b(?:costs?|price|paid|pays?|expensive)\b`)
	asksService  = regexp.MustCompile(`\b(?:served|serving|office|been|worked|employed)\b`)
	begun        = regexp.MustCompile(`(?i)\b(?:since|built|planted|founded|opened|born|year|made|installed|bought)\b`)
	costs        = regexp.MustCompile(`(?i)[£€$]|\b(?:price|fare|cost|fee)s?\b`)

	heights = regexp.MustCompile(`(?i)\bheights?\b`)

	superlatives = []adjective{
		{"most", 1, nil}, {"highest", 1, heights}, {"greatest", 1, nil}, {"largest", 1, measured["large"]}, {"biggest", 1, measured["big"]},
		{"longest", 1, measured["long"]}, {"heaviest", 1, measured["heavy"]}, {"hottest", 1, measured["hot"]}, {"warmest", 1, measured["warm"]},
		{"fastest", 1, measured["fast"]}, {"oldest", -1, begun}, {"newest", 1, begun}, {"youngest", 1, begun}, {"deepest", 1, measured["deep"]}, {"tallest", 1, measured["tall"]}, {"dearest", 1, costs},
		{"least", -1, nil}, {"fewest", -1, nil}, {"lowest", -1, heights}, {"smallest", -1, measured["large"]}, {"shortest", -1, measured["long"]},
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
			found := superlative{adjective: superlatives[i]}
			if found.word == "longest" && asksService.MatchString(folded) {
				found.direction, found.measure = -1, begun // who came first
			}
			if found.measure == nil && asksPrice.MatchString(folded) {
				found.measure = costs
			}
			if at+1 < len(words) {
				found.of = words[at+1]
			}
			return &found
		}
	}
	return nil
}

// picks tells whether one of several things is asked for by a superlative.
func (q *question) picks() bool {
	return q.superlative != nil && (q.want == wantSentence || q.want == wantList)
}

// weighSuperlative has the superlative weigh as much as any word, if it is true of a row:
// that row has it, in numbers, and others lack it.
func (m *matcher) weighSuperlative(asked *superlative) {
	if !slices.ContainsFunc(m.extremes, func(rows []float64) bool { return slices.Contains(rows, 1) }) {
		return
	}
	for i, t := range m.terms {
		if t.Word == asked.word {
			m.superlative = 1 << min(i, 63)
			m.total += t.IDF - m.worth[i]
			m.worth[i] = t.IDF
		}
	}
}

// Columns of the most and of the least, by how a question asks for either.
var (
	asksMost   = regexp.MustCompile(`\b(?:at (?:the )?most|highest|maximum|greatest|largest|peak|up to)\b`)
	asksLeast  = regexp.MustCompile(`\b(?:at (?:the )?least|lowest|minimum|smallest)\b`)
	mostNamed  = regexp.MustCompile(`(?i)\b(?:highest|max(?:imum)?|most|greatest|largest|peak)\b`)
	leastNamed = regexp.MustCompile(`(?i)\b(?:lowest|min(?:imum)?|least|smallest)\b`)
)

// extremeOf returns what a column is called that holds the most, or the least, of
// something, if that is asked for.
func extremeOf(folded string) *regexp.Regexp {
	switch {
	case asksMost.MatchString(folded):
		return mostNamed
	case asksLeast.MatchString(folded):
		return leastNamed
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
	most float64 // that a row shares with the question
}

// greatest tells of each sentence of each candidate whether it is the row with the
// greatest number of its column (1) or another row with one (−1).
func (m *matcher) greatest(asked *superlative, candidates []Candidate) [][]float64 {
	columns := map[string]*column{} // by document, section and name
	keys, out, shares := make([]string, len(candidates)), make([][]float64, len(candidates)), make([][]float64, len(candidates))
	worths, most := make([]float64, len(candidates)), 0.0 // of the columns that are compared
	for i, c := range candidates {
		name, worth, numbers, shared := m.numbers(asked, c.Passage)
		worths[i], shares[i], most = worth, shared, max(most, worth)
		keys[i], out[i] = c.DocumentID+"\n"+c.Passage.SectionPath()+"\n"+name, numbers
		for k, n := range numbers {
			if math.IsNaN(n) {
				continue
			}
			all := columns[keys[i]]
			if all == nil {
				all = &column{}
				columns[keys[i]] = all
			}
			// The cheapest ticket for an adult is the cheapest of the rows for adults.
			switch {
			case all.rows == 0 || shared[k] > all.most:
				all.best, all.most = n, shared[k]
			case shared[k] == all.most:
				all.best = max(all.best, n)
			}
			all.rows++
		}
	}
	for i, numbers := range out {
		all := columns[keys[i]]
		for k, n := range numbers {
			switch {
			case math.IsNaN(n) || all.rows < fewestRows || worths[i] < most/2: // another column is meant
				numbers[k] = 0
			case n == all.best && shares[i][k] == all.most:
				numbers[k] = 1
			default:
				numbers[k] = -1
			}
		}
	}
	return out
}

// numbers returns the name of the column that is asked about, what it is worth and, for each sentence
// of a passage, its number there times the direction, NaN for none, and how much the
// row by itself shares with the question.
func (m *matcher) numbers(asked *superlative, p *passage.Passage) (name string, worth float64, out, shared []float64) {
	rows := make([]map[string]float64, len(p.Sentences))
	for i, s := range p.Sentences {
		if s.Kind == layout.Table {
			rows[i] = numbersOf(p.Text[s.Start:s.End])
		}
	}
	name, worth = m.columnOf(asked, rows, p.Language)
	out, shared = make([]float64, len(rows)), make([]float64, len(rows))
	for i, s := range p.Sentences {
		out[i] = math.NaN()
		if n, ok := rows[i][name]; ok && name != "" && !isTotal(p.Text[s.Start:s.End]) {
			out[i] = asked.direction * n
			shared[i] = m.worthOf(m.in(valuesOf(p.Text[s.Start:s.End]), p.Language))
		}
	}
	return name, worth, out, shared
}

// valuesOf returns what a row says, without the names of its columns.
func valuesOf(row string) string {
	var out []string
	for _, cell := range strings.Split(row, " · ") {
		if _, value, named := strings.Cut(cell, ": "); named {
			cell = value
		}
		out = append(out, cell)
	}
	return strings.Join(out, " ")
}

// columnOf returns the name of the column of numbers that shares most with the
// question, and what that is worth, or the only one; "" if none does.
func (m *matcher) columnOf(asked *superlative, rows []map[string]float64, language text.Language) (string, float64) {
	worths := map[string]float64{}
	itself := m.in(asked.word, language) // a high alarm makes no house the highest
	of := m.in(asked.of, language)
	for _, row := range rows {
		for name := range row {
			if _, known := worths[name]; known {
				continue
			}
			named := m.marks(name, language)
			worths[name] = m.worthOf(named.exact | named.like&^itself)
			if named.any()&of != 0 {
				worths[name] += m.total / 2 // the most humid air is not the most air
			}
			switch {
			case asked.measure == nil || !asked.measure.MatchString(name):
			case asked.measure == heights:
				worths[name] += m.total / 10 // the highest limit is no height
			default:
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
	return best, most
}

// leadingNumber matches the number that a cell is or begins with.
var leadingNumber = regexp.MustCompile(`^[£€$]?\s?([-−]?\d[\d,]*(?:\.\d+)?)`)

// numbersOf returns the numbers in the cells of a row by the names of their columns.
func numbersOf(row string) map[string]float64 {
	out := map[string]float64{}
	for _, cell := range strings.Split(row, " · ") {
		name, value, named := strings.Cut(cell, ": ")
		if m := leadingNumber.FindStringSubmatch(value); named && m != nil {
			if n, err := parseNumber(m[1]); err == nil {
				out[name] = n
			}
		}
	}
	return out
}

// parseNumber reads a number with its thousands parted, or with a minus of print.
func parseNumber(digits string) (float64, error) {
	return strconv.ParseFloat(strings.NewReplacer(",", "", "−", "-").Replace(digits), 64)
}
