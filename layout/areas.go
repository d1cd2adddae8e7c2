package layout

import (
	"cmp"
	"slices"

	"jardinet/pdf"
)

// An area is a part of the page that lines and pictures mark off: a ruled
// table, a figure with its labels, or text in a box. Its text is read by itself
// and takes one place in the order of the page.
type area struct {
	kind  areaKind
	box   pdf.Rect
	inner []segment // its text
	grid  *grid     // of a ruled table
	chart *chart    // of a figure whose bars are labelled
	turn  pdf.Turn
}

type areaKind int

const (
	gridArea areaKind = iota
	figureArea
	boxArea
)

const (
	near       = 5   // points between marks that belong together
	tableRules = 5   // lines across that a drawing seldom has
	smallMark  = 12  // points below which a drawing is an ornament
	background = 0.9 // of the page's width and height
	manyMarks  = 3000
)

// areas finds the areas of a page, the largest first.
func areas(marks []pdf.Mark, width, height float32) []area {
	var kept []pdf.Mark
	for _, m := range marks {
		if m.Box.Width() < background*width || m.Box.Height() < background*height {
			kept = append(kept, m)
		}
	}
	if len(kept) == 0 || len(kept) > manyMarks {
		return nil
	}
	var out []area
	for _, cluster := range clusterMarks(kept) {
		if a, ok := classify(cluster); ok {
			out = append(out, a)
		}
	}
	slices.SortStableFunc(out, func(a, b area) int {
		return cmp.Compare(b.box.Width()*b.box.Height(), a.box.Width()*a.box.Height())
	})
	return out
}

// clusterMarks groups the marks that touch or nearly do.
func clusterMarks(marks []pdf.Mark) [][]pdf.Mark {
	slices.SortStableFunc(marks, func(a, b pdf.Mark) int { return cmp.Compare(a.Box.Y0, b.Box.Y0) })
	parent := make([]int, len(marks))
	for i := range parent {
		parent[i] = i
	}
	var find func(i int) int
	find = func(i int) int {
		if parent[i] != i {
			parent[i] = find(parent[i])
		}
		return parent[i]
	}
	for i := range marks {
		for j := i + 1; j < len(marks) && marks[j].Box.Y0 <= marks[i].Box.Y1+near; j++ {
			if marks[j].Box.X0 <= marks[i].Box.X1+near && marks[j].Box.X1 >= marks[i].Box.X0-near {
				parent[find(j)] = find(i)
			}
		}
	}
	at := map[int]int{}
	var out [][]pdf.Mark
	for i, m := range marks {
		root := find(i)
		if _, known := at[root]; !known {
			at[root] = len(out)
			out = append(out, nil)
		}
		out[at[root]] = append(out[at[root]], m)
	}
	return out
}

// classify tells what a cluster of marks marks off, if anything.
func classify(cluster []pdf.Mark) (area, bool) {
	var box pdf.Rect
	drawn, frames := 0, 0
	for _, m := range cluster {
		box = box.Union(m.Box)
	}
	rules := 0
	for _, m := range cluster {
		switch {
		case m.Kind == pdf.Rule && m.Box.Width() > 0.6*box.Width():
			rules++
		case (m.Kind == pdf.Drawing || m.Kind == pdf.Picture) && max(m.Box.Width(), m.Box.Height()) >= smallMark:
			drawn++
		case m.Kind == pdf.Frame:
			frames++
		}
	}
	a := area{box: box}
	if drawn == 0 || rules >= tableRules {
		if a.grid = gridOf(cluster, box); a.grid != nil {
			a.kind = gridArea
			if len(a.grid.xs) == 2 && len(a.grid.ys) == 2 {
				a.kind, a.grid = boxArea, nil
			}
			return a, true
		}
	}
	if rules >= tableRules {
		return a, false // a table, though not one that lines part into cells
	}
	a.kind = figureArea
	return a, (drawn > 0 || frames > 2) && box.Width() > 2*smallMark && box.Height() > 2*smallMark
}

// split takes the text of the areas out of the segments of the page and puts
// one segment for each area in its place.
func split(in []segment, found []area, turn pdf.Turn) []segment {
	body := usualSize(in)
	for i := range found {
		a := &found[i]
		a.turn = turn
		var rest []segment
		for _, s := range in {
			if s.area == nil && (contains(a.box, s.box) || a.kind == gridArea && begins(a.box, s.box)) || s.area != nil && a.kind == boxArea && contains(a.box, s.box) {
				a.inner = append(a.inner, s)
			} else {
				rest = append(rest, s)
			}
		}
		if !a.plausible() {
			a.inner = nil
			continue
		}
		if a.kind == figureArea && len(a.inner) > 0 {
			rest = a.reachOut(rest, body)
		}
		in = append(rest, segment{area: a, box: a.box, baseline: a.box.Y0, size: 10})
	}
	return in
}

// reachOut takes the labels that stand just outside the figure's lines: short
// ones, in type no larger than that of the labels inside. Where labels are set
// smaller than body text, they may stand further off.
func (a *area) reachOut(in []segment, body float32) (rest []segment) {
	size := float32(0)
	for _, s := range a.inner {
		size = max(size, s.size)
	}
	reach := 1.3 * size
	if size < 0.9*body {
		reach = 3 * size
	}
	around := pdf.Rect{X0: a.box.X0 - 2, Y0: a.box.Y0 - reach, X1: a.box.X1 + 2, Y1: a.box.Y1 + reach}
	for _, s := range in {
		if s.area == nil && len(s.words) <= 4 && !captioned.MatchString(s.text()) && s.size < 1.05*size && contains(around, s.box) {
			a.inner = append(a.inner, s)
			a.box = a.box.Union(s.box)
		} else {
			rest = append(rest, s)
		}
	}
	return rest
}

// usualSize returns the size in which most words are set.
func usualSize(in []segment) float32 {
	words := map[float32]int{}
	best := float32(0)
	for _, s := range in {
		words[s.size] += len(s.words)
		if words[s.size] > words[best] || words[s.size] == words[best] && s.size < best {
			best = s.size
		}
	}
	return best
}

// contains tells whether most of a segment lies in a box.
func contains(box, s pdf.Rect) bool {
	x, y := (s.X0+s.X1)/2, (s.Y0+s.Y1)/2
	return x > box.X0 && x < box.X1 && y > box.Y0 && y < box.Y1 && s.X0 > box.X0-0.2*s.Width() && s.X1 < box.X1+0.2*s.Width()
}

// begins tells whether a segment begins in a box, as the text of a cell that is too
// narrow for it does.
func begins(box, s pdf.Rect) bool {
	y := (s.Y0 + s.Y1) / 2
	return s.X0 > box.X0 && s.X0 < box.X1-3 && y > box.Y0 && y < box.Y1
}

// plausible tells whether the text inside an area is what such an area has.
func (a *area) plausible() bool {
	if len(a.inner) == 0 {
		return a.kind == figureArea
	}
	long, words := 0, 0
	for _, s := range a.inner {
		words += len(s.words)
		if len(s.words) > 6 {
			long++
		}
	}
	switch a.kind {
	case figureArea:
		if words > figureWords && words > 2*len(a.inner) {
			return false // too much is said for labels
		}
		return 3*long <= len(a.inner) && long < 6 // labels are short; a picture behind text is no figure
	case gridArea:
		return len(a.inner) > 1
	}
	return words > 0
}

// A grid is the lines of a ruled table.
type grid struct {
	xs, ys []float32 // of the lines, sorted
	right  [][]bool  // right[row][column]: a line stands to the right of the cell
	below  [][]bool
}

// gridOf makes a grid of the lines of a cluster, nil if they are none.
func gridOf(cluster []pdf.Mark, box pdf.Rect) *grid {
	var across, upright []pdf.Rect
	for _, m := range cluster {
		switch b := m.Box; {
		case m.Kind == pdf.Frame:
			across = append(across, pdf.Rect{X0: b.X0, Y0: b.Y0, X1: b.X1, Y1: b.Y0}, pdf.Rect{X0: b.X0, Y0: b.Y1, X1: b.X1, Y1: b.Y1})
			upright = append(upright, pdf.Rect{X0: b.X0, Y0: b.Y0, X1: b.X0, Y1: b.Y1}, pdf.Rect{X0: b.X1, Y0: b.Y0, X1: b.X1, Y1: b.Y1})
		case b.Width() >= b.Height():
			across = append(across, b)
		default:
			upright = append(upright, b)
		}
	}
	g := &grid{
		ys: levels(across, func(r pdf.Rect) float32 { return (r.Y0 + r.Y1) / 2 }),
		xs: levels(upright, func(r pdf.Rect) float32 { return (r.X0 + r.X1) / 2 }),
	}
	if len(g.xs) < 1 || len(g.ys) < 2 || len(g.xs)*len(g.ys) > 10_000 {
		return nil
	}
	if covered(across, g.ys, box.Width(), false) < 0.5 || covered(upright, g.xs, box.Height(), true) < 0.5 {
		return nil
	}
	if len(g.ys) >= 3 { // a table may be open at its sides and ends
		if g.ys[0] > box.Y0+5 {
			g.ys = slices.Insert(g.ys, 0, box.Y0)
		}
		if g.ys[len(g.ys)-1] < box.Y1-5 {
			g.ys = append(g.ys, box.Y1)
		}
		if g.xs[0] > box.X0+5 {
			g.xs = slices.Insert(g.xs, 0, box.X0)
		}
		if g.xs[len(g.xs)-1] < box.X1-5 {
			g.xs = append(g.xs, box.X1)
		}
	}
	if len(g.xs) < 2 {
		return nil
	}
	g.borders(across, upright)
	return g
}

// levels returns the distinct positions of lines.
func levels(lines []pdf.Rect, at func(pdf.Rect) float32) []float32 {
	var all []float32
	for _, l := range lines {
		all = append(all, at(l))
	}
	slices.Sort(all)
	var out []float32
	for _, v := range all {
		if len(out) == 0 || v-out[len(out)-1] > 3 {
			out = append(out, v)
		}
	}
	return out
}

// covered returns which share of all levels the lines draw.
func covered(lines []pdf.Rect, at []float32, extent float32, upright bool) float32 {
	total := float32(0)
	for _, level := range at {
		var ranges []band
		for _, l := range lines {
			if !upright && abs((l.Y0+l.Y1)/2-level) <= 3 {
				ranges = unite(ranges, band{l.X0, l.X1 + 1})
			} else if upright && abs((l.X0+l.X1)/2-level) <= 3 {
				ranges = unite(ranges, band{l.Y0, l.Y1 + 1})
			}
		}
		for _, r := range ranges {
			total += r.x1 - r.x0
		}
	}
	return total / (float32(len(at)) * extent)
}

func abs(x float32) float32 { return max(x, -x) }

// borders finds which sides of the cells are drawn.
func (g *grid) borders(across, upright []pdf.Rect) {
	rows, columns := len(g.ys)-1, len(g.xs)-1
	g.right, g.below = make([][]bool, rows), make([][]bool, rows)
	for i := range rows {
		g.right[i], g.below[i] = make([]bool, columns), make([]bool, columns)
		for j := range columns {
			g.right[i][j] = drawnAlong(upright, g.ys[i], g.ys[i+1], func(l pdf.Rect) (float32, float32, float32) { return (l.X0+l.X1)/2 - g.xs[j+1], l.Y0, l.Y1 })
			g.below[i][j] = drawnAlong(across, g.xs[j], g.xs[j+1], func(l pdf.Rect) (float32, float32, float32) { return (l.Y0+l.Y1)/2 - g.ys[i+1], l.X0, l.X1 })
		}
	}
}

// drawnAlong tells whether lines at no distance cover most of from to to.
func drawnAlong(lines []pdf.Rect, from, to float32, side func(pdf.Rect) (distance, a, b float32)) bool {
	got := float32(0)
	for _, l := range lines {
		if d, a, b := side(l); abs(d) <= 3 {
			got += max(0, min(b, to)-max(a, from))
		}
	}
	return got > 0.6*(to-from)
}

// owner returns the cell that a cell is part of: its neighbours to the left and
// above that no line parts it from.
func (g *grid) owner(row, column int) (int, int) {
	for column > 0 && !g.right[row][column-1] {
		column--
	}
	for row > 0 && !g.below[row-1][column] {
		row--
	}
	return row, column
}

// cell returns the cell that a point lies in.
func (g *grid) cell(x, y float32) (row, column int) {
	row, _ = slices.BinarySearch(g.ys, y)
	column, _ = slices.BinarySearch(g.xs, x)
	return g.owner(min(max(row-1, 0), len(g.ys)-2), min(max(column-1, 0), len(g.xs)-2))
}

// cellInset is how far from its left line the text of a cell begins at most.
const cellInset = 12

// middle returns where across the table a word counts as standing: its middle, or
// its beginning if it begins a cell that it is too wide for.
func (g *grid) middle(word pdf.Rect) float32 {
	column, _ := slices.BinarySearch(g.xs, word.X0)
	if column > 0 && column < len(g.xs) && word.X1 > g.xs[column] && word.X0-g.xs[column-1] < cellInset {
		return word.X0
	}
	return (word.X0 + word.X1) / 2
}

// rows sorts the words of the area into the cells.
func (a *area) rows() []gathered {
	g := a.grid
	out := make([]gathered, len(g.ys)-1)
	for i := range out {
		out[i].cells = make([][]word, len(g.xs)-1)
	}
	lines := gather(slices.Clone(a.inner))
	for _, l := range lines {
		for _, s := range l.segments {
			for _, w := range s.words {
				row, column := g.cell(g.middle(w.box), (w.box.Y0+w.box.Y1)/2)
				out[row].cells[column] = append(out[row].cells[column], w)
			}
		}
	}
	out = slices.DeleteFunc(out, func(r gathered) bool {
		return !slices.ContainsFunc(r.cells, func(c []word) bool { return len(c) > 0 })
	})
	if len(out) > 1 {
		out[0].header = isHeader(out, lines[0].style.bold, lines[len(lines)-1].style.bold)
		// Where cells of the first row span several columns, the second row names
		// them.
		out[1].header = out[0].header && len(out) > 2 && filled(out[0]) < filled(out[1])+1 && len(out[1].cells[0]) == 0
	}
	return out
}

func filled(r gathered) (n int) {
	for _, c := range r.cells {
		if len(c) > 0 {
			n++
		}
	}
	return n
}
