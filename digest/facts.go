package digest

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"jardinet/layout"
	"jardinet/text"
)

// A Date is a day, a month, a year or a period that a document names.
type Date struct {
	When     string // as ISO 8601 has it: 2026-01-31, 2026-01, 2026, --01-31 for each year, P14D for a period
	Words    string // as it stands
	Deadline bool   // something has to be done by then
	Quote    Quote
}

// deadline is what stands before a date by which something has to be done.
var deadline = regexp.MustCompile(`(?i)(?:^|[^\pL])(?:by|before|until|till|no later than|not later than|at the latest|latest|deadline(?: is)?|due(?: on| by)?|expires?(?: on)?|closes?(?: on)?|ends?(?: on)?|bis(?: zum| spätestens)?|spätestens(?: am)?|avant(?: le)?|jusqu'au|au plus tard(?: le)?)\s+(?:the\s+|le\s+|dem\s+)?$`)

// within is what stands before a period in which something has to be done, and after one.
var (
	within = regexp.MustCompile(`(?i)(?:^|[^\pL])(?:within|in no more than|no later than|not later than|at most|innerhalb von|binnen|dans un délai de|sous)\s+$`)
	ahead  = regexp.MustCompile(`(?i)^['’]?\s+(?:in advance|beforehand|(?:written )?notice|im Voraus|à l'avance|de préavis)(?:[^\pL]|$)`)
	before = regexp.MustCompile(`(?i)^\s+(?:before|vor|avant)(?:[^\pL]|$)`)
)

// quantities are the numbers of each line that is a sentence; the cells of rows are looked at one by one.
func quantities(all []Quote) [][]text.Quantity {
	out := make([][]text.Quantity, len(all))
	for i, q := range all {
		if q.isProse() || q.Kind == layout.Caption || q.Kind == layout.Footnote {
			out[i] = text.Quantities(q.Text)
		}
	}
	return out
}

// dates are the dates and periods that lines name, in the order of time: days of the calendar
// first, then those of each year, then periods.
func dates(all []Quote, numbers [][]text.Quantity) []Date {
	var out []Date
	for i, q := range all {
		for _, d := range text.Dates(q.Text) {
			out = append(out, Date{When: d.String(), Words: q.Text[d.Start:d.End], Deadline: d.Month > 0 && deadline.MatchString(q.Text[:d.Start]), Quote: q})
		}
		if !q.isProse() {
			continue
		}
		for _, n := range numbers[i] {
			if when := period(n); when != "" && (within.MatchString(q.Text[:n.Start]) || ahead.MatchString(q.Text[n.End:]) || n.Bound == text.AtLeast && before.MatchString(q.Text[n.End:])) {
				out = append(out, Date{When: when, Words: q.Text[n.Start:n.End], Deadline: true, Quote: q})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Date) int { return cmp.Or(cmp.Compare(era(a.When), era(b.When)), cmp.Compare(a.When, b.When)) })
	return out
}

// era tells days of the calendar, those of each year and periods apart.
func era(when string) int {
	switch {
	case strings.HasPrefix(when, "P"):
		return 2
	case strings.HasPrefix(when, "-"):
		return 1
	}
	return 0
}

// designators are the letters of ISO 8601 for units of time, by the beginnings of their names.
var designators = []struct{ beginning, letter string }{
	{"working day", "D"}, {"calendar day", "D"}, {"day", "D"}, {"jour", "D"}, {"tag", "D"}, {"week", "W"}, {"semaine", "W"}, {"woche", "W"}, {"fortnight", "2W"},
	{"month", "M"}, {"mois", "M"}, {"monat", "M"}, {"year", "Y"}, {"an", "Y"}, {"jahr", "Y"}, {"hour", "TH"}, {"heure", "TH"}, {"stunde", "TH"}, {"minute", "TM"},
}

// period writes a quantity of time as a duration; it is empty for others.
func period(q text.Quantity) string {
	unit := strings.ToLower(q.Unit)
	if unit == "h" {
		unit = "hour"
	}
	for _, d := range designators {
		if !strings.HasPrefix(unit, d.beginning) || d.beginning == "an" && unit != "an" && unit != "ans" && !strings.HasPrefix(unit, "année") {
			continue
		}
		n, letter := q.To, d.letter
		if letter == "2W" {
			n, letter = 2*n, "W"
		}
		if time, ok := strings.CutPrefix(letter, "T"); ok {
			return fmt.Sprintf("PT%g%s", n, time)
		}
		return fmt.Sprintf("P%g%s", n, letter)
	}
	return ""
}

// A Figure is a number of a document with its unit.
type Figure struct {
	Value, To float64 // equal, but for a range
	Unit      string
	Measure   bool // the unit is one of measurement, and no counted thing
	Bound     text.Bound
	Words     string // as it stands
	Of        string // what it is of: a row and a column, or the heading
	Quote     Quote
}

// figures are the numbers with units that lines have, in their order.
func figures(all []Quote, numbers [][]text.Quantity) []Figure {
	var out []Figure
	for i, q := range all {
		switch {
		case q.Kind == layout.Table || q.Row != "":
			out = append(out, rowFigures(q)...)
		default:
			for _, n := range numbers[i] {
				out = append(out, figure(n, q.Text, q.heading(), q))
			}
		}
	}
	return out
}

func figure(n text.Quantity, words, of string, q Quote) Figure {
	return Figure{Value: n.Value, To: n.To, Unit: n.Unit, Measure: n.Known, Bound: n.Bound, Words: words[n.Start:n.End], Of: of, Quote: q}
}

// unitColumns are the heads of columns that hold the units of their rows.
var unitColumns = map[string]bool{"unit": true, "units": true, "einheit": true, "einheiten": true, "unite": true, "unites": true}

// rowFigures are the figures of a row, which reads "Palm House · Night minimum °C: 18 · …". The unit
// of a bare number is the column's, else the row's.
func rowFigures(q Quote) []Figure {
	var out []Figure
	cells := strings.Split(q.Text, " · ")
	row, ofRow := text.HeadUnit(cells[0])
	if !strings.ContainsAny(ofRow, "/%°²³£€$µ") { // a word that is a unit elsewhere, as in "by day or night"
		row, ofRow = cells[0], ""
	}
	for _, n := range text.Quantities(cells[0]) {
		if n.Known {
			out = append(out, figure(n, cells[0], q.Row, q))
			ofRow = ""
		}
	}
	for _, cell := range cells {
		if head, value, _ := strings.Cut(cell, ": "); unitColumns[text.Fold(strings.TrimSpace(head))] {
			ofRow = value
		}
	}
	for _, cell := range cells[1:] {
		head, value, ok := strings.Cut(cell, ": ")
		if !ok || strings.TrimSpace(head) == "" { // a column without a name
			for _, n := range text.Quantities(cell) {
				if n.Known {
					out = append(out, figure(n, cell, row, q))
				}
			}
			continue
		}
		found := text.Quantities(value)
		for _, n := range found {
			out = append(out, figure(n, value, row+" · "+head, q))
		}
		named, unit := text.HeadUnit(head)
		if unit = cmp.Or(unit, ofRow); len(found) > 0 || unit == "" {
			continue
		}
		number, bound := text.BoundOf(value)
		if n, ok := text.Number(number); ok {
			out = append(out, Figure{Value: n, To: n, Unit: unit, Measure: true, Bound: bound, Words: value, Of: row + " · " + named, Quote: q})
		}
	}
	return out
}

// An Office is somebody whom a document gives duties, with all of them.
type Office struct {
	Name   string
	Duties []int   // in Digest.Duties
	Tasks  []Quote // what it says that they do
}

// doing is a sentence that says what somebody does: "The guard closes every door".
var doing = regexp.MustCompile(`^(?:The|Each|Every|A|An) ([\pL-]+(?: (?:of the |of |and )?[\pL-]+){0,4}?) ([a-z]+s)(?: [\pL\d]|$)`)

// doer returns of whom a line says that they do something; empty for others.
func doer(q *Quote) string {
	if q.language != text.English || !mayOblige(q) {
		return ""
	}
	_, sentence := itemMark(q)
	m := doing.FindStringSubmatch(sentence)
	if m == nil || text.IsFunctionWord(m[2], text.English) || strings.HasSuffix(m[2], "ss") || strings.HasSuffix(m[2], "us") {
		return ""
	}
	return strings.TrimSuffix(strings.TrimSuffix(m[1], " who"), " alone")
}

// pointing are subjects that name nobody by themselves.
var pointing = map[string]bool{"it": true, "they": true, "you": true, "we": true, "this": true, "that": true, "these": true, "those": true, "he": true, "she": true, "who": true, "which": true, "there": true, "one": true, "all": true, "each": true, "both": true, "il": true, "elle": true, "ils": true, "es": true, "er": true, "sie": true, "wir": true, "nous": true, "vous": true, "on": true, "man": true, "nothing": true, "what": true, "everything": true}

// offices groups what is to be done and what is done by who does it, those with the most first.
func offices(all []Duty, tasks []Quote, known map[string]bool) []Office {
	var out []Office
	at := map[string]int{}
	office := func(name string) *Office {
		key := text.Normal(name)
		if _, there := at[key]; !there {
			at[key] = len(out)
			out = append(out, Office{Name: strings.ToUpper(name[:1]) + name[1:]})
		}
		return &out[at[key]]
	}
	for i, d := range all {
		if name := withoutArticle(d.Who); known[name] && !pointing[text.Normal(name)] && !denied(d.Who) {
			o := office(name)
			o.Duties = append(o.Duties, i)
		}
	}
	for _, q := range tasks {
		if name := doer(&q); known[name] && !pointing[text.Normal(name)] {
			o := office(name)
			o.Tasks = append(o.Tasks, q)
		}
	}
	slices.SortStableFunc(out, func(a, b Office) int {
		return cmp.Compare(len(b.Duties)+len(b.Tasks), len(a.Duties)+len(a.Tasks))
	})
	return out
}
