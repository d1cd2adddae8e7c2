package layout

import (
	"cmp"
	"regexp"
	"slices"

	"jardinet/pdf"
)

// A bar chart that says at each bar what it stands for and how much that is
// is a table in another dress. Its bars tell which label belongs to which number,
// which the order of the text does not.

// A chart is bars of about one thickness that begin on one line.
type chart struct {
	bars    []pdf.Rect // from the left, or from the top
	upright bool
	labels  []segment // by bar
	values  []segment // by bar
}

const (
	fewestBars  = 3
	thinnestBar = 4   // points
	longestBar  = 30  // points that the longest bar has at least
	onOneLine   = 2   // points that bars may begin apart
	labelReach  = 200 // points from a bar to the label beside it
	valueReach  = 30  // and from its end to its number
	labelWords  = 6
)

// charts finds the bar charts among the rectangles of a page.
func charts(marks []pdf.Mark) []chart {
	var frames []pdf.Rect
	for _, m := range marks {
		if m.Kind == pdf.Frame && min(m.Box.Width(), m.Box.Height()) >= thinnestBar {
			frames = append(frames, m.Box)
		}
	}
	var out []chart
	for _, upright := range []bool{false, true} {
		c := chart{upright: upright}
		rest := slices.Clone(frames)
		for len(rest) >= fewestBars {
			base := c.base(rest[0])
			var line []pdf.Rect
			rest = slices.DeleteFunc(rest, func(r pdf.Rect) bool {
				same := abs(c.base(r)-base) <= onOneLine
				if same {
					line = append(line, r)
				}
				return same
			})
			if found := (chart{upright: upright, bars: line}); found.plausible() {
				out = append(out, found)
			}
		}
	}
	return out
}

// base is where a bar begins, and across and length how thick and long it is.
func (c *chart) base(bar pdf.Rect) float32 {
	if c.upright {
		return bar.Y1
	}
	return bar.X0
}

func (c *chart) length(bar pdf.Rect) float32 {
	if c.upright {
		return bar.Height()
	}
	return bar.Width()
}

func (c *chart) across(bar pdf.Rect) (from, to float32) {
	if c.upright {
		return bar.X0, bar.X1
	}
	return bar.Y0, bar.Y1
}

// plausible tells whether rectangles on one line are bars: apart from each other,
// about as thick, and not all as long, as the shaded rows of a table are.
func (c *chart) plausible() bool {
	if len(c.bars) < fewestBars {
		return false
	}
	slices.SortFunc(c.bars, func(a, b pdf.Rect) int {
		x, _ := c.across(a)
		y, _ := c.across(b)
		return cmp.Compare(x, y)
	})
	least, most := float32(1e9), float32(0)
	thin, thick := float32(1e9), float32(0)
	end := float32(-1e9)
	for _, b := range c.bars {
		from, to := c.across(b)
		if from < end {
			return false
		}
		end = to
		thin, thick = min(thin, to-from), max(thick, to-from)
		least, most = min(least, c.length(b)), max(most, c.length(b))
	}
	return most >= longestBar && least < 0.9*most && thin >= 0.5*thick
}

// numeric matches the number at a bar, with what may stand about it.
var numeric = regexp.MustCompile(`^[£€$]?\s?[-−+]?\d[\d,.]*(?:\s?\pL{1,3}|\s?%|\s?per cent)?$`)

// read finds the label and the number of each bar among the text of the page and
// tells whether none is lacking.
func (c *chart) read(in []segment) bool {
	c.labels, c.values = make([]segment, len(c.bars)), make([]segment, len(c.bars))
	for _, s := range in {
		if s.area != nil || len(s.words) == 0 || len(s.words) > labelWords {
			continue
		}
		i := c.barOf(s.box)
		if i < 0 {
			continue
		}
		switch before, after := c.distances(c.bars[i], s.box); {
		case before >= -onOneLine && before < labelReach:
			if c.labels[i].words == nil || before < c.gap(i) {
				c.labels[i] = s
			}
		case after < valueReach && numeric.MatchString(s.text()):
			c.values[i] = s
		}
	}
	for i := range c.bars {
		if c.labels[i].words == nil || c.values[i].words == nil {
			return false
		}
	}
	return true
}

// barOf returns the bar in whose row or column a box stands, −1 for none.
func (c *chart) barOf(box pdf.Rect) int {
	middle := (box.Y0 + box.Y1) / 2
	if c.upright {
		middle = (box.X0 + box.X1) / 2
	}
	best, least := -1, float32(1e9)
	for i, b := range c.bars {
		from, to := c.across(b)
		reach := 0.3 * (to - from) // a number may be wider than its bar
		if d := abs(middle - (from+to)/2); middle > from-reach && middle < to+reach && d < least {
			best, least = i, d
		}
	}
	return best
}

// distances tells how far a box stands before the beginning of a bar, and how far
// after its end; both are negative for what stands in it.
func (c *chart) distances(bar, box pdf.Rect) (before, after float32) {
	if c.upright {
		return box.Y0 - bar.Y1, bar.Y0 - box.Y1
	}
	return bar.X0 - box.X1, box.X0 - bar.X1
}

// gap is how far the label of a bar stands from it.
func (c *chart) gap(i int) float32 {
	before, _ := c.distances(c.bars[i], c.labels[i].box)
	return before
}

// area returns what the chart takes up of the page, and the text of it.
func (c *chart) area() area {
	a := area{kind: figureArea, chart: c}
	for i, b := range c.bars {
		a.box = a.box.Union(b).Union(c.labels[i].box).Union(c.values[i].box)
		a.inner = append(a.inner, c.labels[i], c.values[i])
	}
	return a
}

// bars returns rows: the bars, each with its label and its number, and then what else stands
// in the chart.
func (a *area) bars() []gathered {
	var out []gathered
	taken := map[pdf.Rect]bool{}
	for i := range a.chart.bars {
		label, value := a.chart.labels[i], a.chart.values[i]
		taken[label.box], taken[value.box] = true, true
		out = append(out, gathered{cells: [][]word{label.words, value.words}})
	}
	for _, s := range a.inner {
		if !taken[s.box] {
			out = append(out, gathered{cells: [][]word{s.words, nil}})
		}
	}
	return out
}

// splitCharts takes the charts that can be read out of the segments of the page, and
// the figures that are the same drawings out of the areas found.
func splitCharts(in []segment, found []area, drawn []chart, turn pdf.Turn) ([]segment, []area) {
	for i := range drawn {
		c := &drawn[i]
		if !c.read(in) {
			continue
		}
		a := c.area()
		a.turn = turn
		found = slices.DeleteFunc(found, func(f area) bool {
			same := f.kind == figureArea && contains(f.box, a.box) || contains(a.box, f.box)
			if same {
				a.box = a.box.Union(f.box)
			}
			return same
		})
		var rest []segment
		for _, s := range in {
			paired := slices.ContainsFunc(a.inner, func(t segment) bool { return t.box == s.box })
			if !paired && s.area == nil && contains(a.box, s.box) {
				a.inner = append(a.inner, s)
			} else if !paired {
				rest = append(rest, s)
			}
		}
		in = append(rest, segment{area: &a, box: a.box, baseline: a.box.Y0, size: 10})
	}
	return in, found
}
