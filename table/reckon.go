package table

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
)

// An Operation is what is worked out over the numbers of a column.
type Operation string

// Operations.
const (
	Sum        Operation = "sum"
	Mean       Operation = "mean"
	Largest    Operation = "largest"
	Smallest   Operation = "smallest"
	Count      Operation = "count"
	Difference Operation = "difference" // of two rows, the first less the second
	Change     Operation = "change"     // from the first row to the last, in per cent
)

// A Result is what was worked out, with the cells that went in.
type Result struct {
	Operation Operation
	Value     float64
	Unit      string
	Column    int
	Rows      []int  // whose cells went in; of an extreme, the one that it is
	Words     string // how: "41 = 12 + 17 + 12"
}

// ErrNothing says that there is nothing to work with.
var ErrNothing = errors.New("there are no numbers for it")

// Reckon works something out over the numbers of a column in some rows; all rows if none are
// named, but for those that are totals themselves. Two rows are needed for a difference or a change.
func (t *Table) Reckon(op Operation, column int, rows ...int) (*Result, error) {
	if len(rows) == 0 {
		for i := range t.Rows {
			if !t.IsTotal(i) {
				rows = append(rows, i)
			}
		}
	}
	r := &Result{Operation: op, Unit: t.Columns[column].Unit, Column: column}
	for _, i := range rows {
		if op == Count || t.Rows[i][column].IsNumber {
			r.Rows = append(r.Rows, i)
		}
	}
	if len(r.Rows) == 0 || (op == Difference || op == Change) && len(r.Rows) < 2 {
		return nil, ErrNothing
	}
	value := func(i int) float64 { return t.Rows[i][column].Number }
	words := func(i int) string { return t.Rows[i][column].Text }
	switch op {
	case Sum, Mean:
		var terms []string
		for _, i := range r.Rows {
			r.Value += value(i)
			terms = append(terms, words(i))
		}
		if sum := strings.Join(terms, " + "); op == Sum {
			r.Words = fmt.Sprintf("%s = %s", r.written(), sum)
		} else {
			r.Value /= float64(len(r.Rows))
			r.Words = fmt.Sprintf("%s = (%s) / %d", r.written(), sum, len(r.Rows))
		}
	case Largest, Smallest:
		best := slices.MaxFunc(r.Rows, func(a, b int) int {
			if op == Smallest {
				a, b = b, a
			}
			return cmp.Compare(value(a), value(b))
		})
		of := len(r.Rows)
		r.Value, r.Rows = value(best), []int{best}
		r.Words = fmt.Sprintf("%s, %s, the %s of %d", t.Label(best), words(best), op, of)
	case Count:
		r.Value, r.Unit = float64(len(r.Rows)), ""
		r.Words = t.rowsNamed(r.Rows)
	case Difference:
		r.Rows = r.Rows[:2]
		r.Value = value(r.Rows[0]) - value(r.Rows[1])
		r.Words = fmt.Sprintf("%s = %s − %s", r.written(), words(r.Rows[0]), words(r.Rows[1]))
	case Change:
		first, last := r.Rows[0], r.Rows[len(r.Rows)-1]
		if value(first) == 0 {
			return nil, ErrNothing
		}
		r.Value, r.Unit, r.Rows = 100*(value(last)-value(first))/math.Abs(value(first)), "%", []int{first, last}
		r.Words = fmt.Sprintf("%s %% = (%s − %s) / %s", r.written(), words(last), words(first), words(first))
	default:
		return nil, fmt.Errorf("table: there is no operation %q", op)
	}
	return r, nil
}

// mostNamed is how many rows are named that were counted.
const mostNamed = 12

// rowsNamed counts rows, and names the first of them.
func (t *Table) rowsNamed(rows []int) string {
	var names []string
	for _, i := range rows[:min(len(rows), mostNamed)] {
		names = append(names, t.Label(i))
	}
	more := ""
	if len(rows) > mostNamed {
		more = " …"
	}
	return fmt.Sprintf("%d rows: %s%s", len(rows), strings.Join(names, ", "), more)
}

// written is the value for people, without the noise of arithmetic in binary.
func (r *Result) written() string { return Written(r.Value) }

// Written writes a number for people: to two places, or four below 1, with commas between thousands.
func Written(n float64) string {
	s := strconv.FormatFloat(math.Abs(n), 'f', -1, 64)
	if whole, rest, ok := strings.Cut(s, "."); ok && len(rest) > 2 {
		places := 2
		if whole == "0" {
			places = 4
		}
		s = strings.TrimRight(strings.TrimRight(strconv.FormatFloat(math.Abs(n), 'f', places, 64), "0"), ".")
	}
	whole, rest, point := strings.Cut(s, ".")
	for i := len(whole) - 3; i > 0; i -= 3 {
		whole = whole[:i] + "," + whole[i:]
	}
	if point {
		whole += "." + rest
	}
	if n < 0 && whole != "0" {
		return "−" + whole
	}
	return whole
}

// Label names a row: its first cell of words or its year.
func (t *Table) Label(row int) string {
	for i, c := range t.Columns {
		if c.Kind != Number && t.Rows[row][i].Text != "" {
			return t.Rows[row][i].Text
		}
	}
	return t.Rows[row][0].Text
}

// totals are what rows are called that add up the others.
var totals = map[string]bool{"total": true, "totals": true, "sum": true, "together": true, "all": true, "in all": true, "altogether": true, "grand total": true, "overall": true, "average": true, "mean": true, "summe": true, "gesamt": true, "insgesamt": true, "ensemble": true, "moyenne": true, "durchschnitt": true}

// IsTotal tells whether a row adds up the others.
func (t *Table) IsTotal(row int) bool {
	return totals[strings.ToLower(strings.Trim(t.Label(row), " :."))]
}
