package layout

import (
	"cmp"
	"slices"
)

// maxCuts bounds the recursion on pages made to confuse it.
const maxCuts = 12

// cut splits segments into regions in reading order: first into columns, where
// a gutter runs through all of them, else into bands between which the columns
// change.
func cut(in []segment, depth int) [][]segment {
	if len(in) == 0 {
		return nil
	}
	if depth > maxCuts || !sideBySide(in) {
		return [][]segment{in}
	}
	if columns := columns(in); len(columns) > 1 {
		var out [][]segment
		for _, column := range columns {
			out = append(out, cut(column, depth+1)...)
		}
		return out
	}
	bands := bands(in)
	if len(bands) == 1 {
		return bands
	}
	return joinBands(bands, depth)
}

// joinBands finds the longest runs of bands that share a gutter and cuts each
// run into its columns. Bands between such runs stay together as one region.
func joinBands(bands [][]segment, depth int) [][]segment {
	var out [][]segment
	var plain []segment
	flush := func() {
		if len(plain) > 0 {
			out = append(out, plain)
			plain = nil
		}
	}
	for i := 0; i < len(bands); {
		end := shareGutter(bands, i)
		split := columns(slices.Concat(bands[i:end]...))
		if len(split) < 2 {
			plain = append(plain, bands[i]...)
			i++
			continue
		}
		flush()
		for _, column := range split {
			out = append(out, cut(column, depth+1)...)
		}
		i = end
	}
	flush()
	return out
}

// shareGutter returns the end of the longest run of bands from start that one
// gutter runs through.
func shareGutter(bands [][]segment, start int) int {
	var taken []band
	for end := start; end < len(bands); end++ {
		for _, s := range bands[end] {
			// Half a gutter on each side joins what stands closer.
			taken = unite(taken, band{s.box.X0 - minGutter/2, s.box.X1 + minGutter/2})
		}
		if len(taken) < 2 {
			return max(end, start+1)
		}
	}
	return len(bands)
}

// sideBySide tells whether any two segments share a height; if none do, there
// are no columns to look for.
func sideBySide(in []segment) bool {
	sorted := slices.Clone(in)
	slices.SortFunc(sorted, func(a, b segment) int { return cmp.Compare(a.box.Y0, b.box.Y0) })
	bottom := sorted[0]
	for _, s := range sorted[1:] {
		if bottom.box.Y1-s.box.Y0 > 0.5*min(s.box.Height(), bottom.box.Height()) && (s.box.X0 > bottom.box.X1 || s.box.X1 < bottom.box.X0) {
			return true
		}
		if s.box.Y1 > bottom.box.Y1 {
			bottom = s
		}
	}
	return false
}

// A gutter between columns of text is at least this wide, in points, and the
// columns beside it hold at least this many lines of this many words.
const (
	minGutter      = 8
	minColumnLines = 2
	minColumnWords = 4
	minColumnWidth = 60
)

// columns splits at the vertical gutters that separate running text. It leaves
// tables whole: the cells beside their gutters are too short to be text.
func columns(in []segment) [][]segment {
	sorted := slices.Clone(in)
	slices.SortFunc(sorted, func(a, b segment) int { return cmp.Compare(a.box.X0, b.box.X0) })
	var groups [][]segment
	edge := float32(-1)
	for _, s := range sorted {
		if len(groups) == 0 || s.box.X0-edge >= minGutter {
			groups = append(groups, nil)
		}
		n := len(groups) - 1
		groups[n] = append(groups[n], s)
		edge = max(edge, s.box.X1)
	}
	for len(groups) > 1 {
		lone := -1
		for i, g := range groups {
			if !isText(g) && alignedWithNeighbour(groups, i) {
				lone = i
				break
			}
		}
		if lone < 0 {
			return groups
		}
		groups = joinNearest(groups, lone)
	}
	return nil
}

// alignedWithNeighbour tells whether the lines of a group stand on the heights
// of its nearest neighbour's, as cells of one table do. A few lines always may.
func alignedWithNeighbour(groups [][]segment, i int) bool {
	if len(groups[i]) < 2*minColumnLines+2 {
		return true
	}
	neighbour := i + 1
	if joinsLeft(groups, i) {
		neighbour = i - 1
	}
	other := groups[neighbour]
	same, of := 0, 0
	for _, s := range groups[i] {
		if s.rule || s.area != nil {
			continue
		}
		of++
		if slices.ContainsFunc(other, func(o segment) bool { return abs(o.baseline-s.baseline) < 1 }) {
			same++
		}
	}
	return 2*same >= of
}

// joinsLeft tells whether a group's nearest neighbour is the one to its left.
func joinsLeft(groups [][]segment, i int) bool {
	return i == len(groups)-1 || i > 0 && left(groups[i])-right(groups[i-1]) < left(groups[i+1])-right(groups[i])
}

// joinNearest joins a group with the neighbour that it stands closest to.
func joinNearest(groups [][]segment, i int) [][]segment {
	if joinsLeft(groups, i) {
		i--
	}
	groups[i] = append(groups[i], groups[i+1]...)
	return slices.Delete(groups, i+1, i+2)
}

func left(group []segment) float32 {
	x := group[0].box.X0
	for _, s := range group {
		x = min(x, s.box.X0)
	}
	return x
}

func right(group []segment) float32 {
	x := group[0].box.X1
	for _, s := range group {
		x = max(x, s.box.X1)
	}
	return x
}

// isText tells whether segments look like a column of running text: most of its
// words stand in lines of several words. Tables and figures in a column go with
// the text around them.
func isText(group []segment) bool {
	words, running, lines, areas := 0, 0, 0, 0
	for _, s := range group {
		if s.area != nil {
			areas++
			continue
		}
		if s.rule {
			continue
		}
		words += len(s.words)
		if len(s.words) >= minColumnWords {
			running += len(s.words)
			lines++
		}
	}
	return (lines >= minColumnLines || lines > 0 && areas > 0) && 2*running > words && right(group)-left(group) > minColumnWidth
}

// bands splits at horizontal white space, keeping lines that overlap together.
func bands(in []segment) [][]segment {
	sorted := slices.Clone(in)
	slices.SortFunc(sorted, func(a, b segment) int { return cmp.Compare(a.box.Y0, b.box.Y0) })
	var out [][]segment
	bottom := float32(-1)
	for _, s := range sorted {
		if len(out) == 0 || s.box.Y0 > bottom-0.3*s.box.Height() {
			out = append(out, nil)
		}
		n := len(out) - 1
		out[n] = append(out[n], s)
		bottom = max(bottom, s.box.Y1)
	}
	return out
}
