package pdfium

import "jardinet/pdf"

// Bounds on what is looked at on a page; maps and plots have more.
const (
	maxObjects  = 20_000
	maxMarks    = 4_000
	maxSegments = 400 // of a path that may be a grid of lines
	maxNesting  = 3
	smallForm   = 0.03 // of the page's area
	thin        = 3    // points up to which a rectangle is a line
)

// Kinds of page object in PDFium.
const (
	objectPath  = 2
	objectImage = 3
	objectForm  = 5
)

// A matrix maps the space of a form onto that of the page.
type matrix [6]float32

var identity = matrix{1, 0, 0, 1, 0, 0}

func (m matrix) point(x, y float32) (float32, float32) {
	return m[0]*x + m[2]*y + m[4], m[1]*x + m[3]*y + m[5]
}

// within returns the matrix that maps through m first and then through outer.
func (m matrix) within(outer matrix) matrix {
	e, f := outer.point(m[4], m[5])
	return matrix{
		outer[0]*m[0] + outer[2]*m[1], outer[1]*m[0] + outer[3]*m[1],
		outer[0]*m[2] + outer[2]*m[3], outer[1]*m[2] + outer[3]*m[3], e, f,
	}
}

// A marker collects the marks of a page.
type marker struct {
	in    *instance
	frame frame
	marks []pdf.Mark
	seen  int
}

// marks reads what is drawn on a page beside text.
func (in *instance) marks(page uint64, f frame) ([]pdf.Mark, error) {
	m := &marker{in: in, frame: f}
	n, err := in.call("FPDFPage_CountObjects", page)
	if err != nil {
		return nil, err
	}
	err = m.objects(int(int32(n)), identity, 0, func(i int) (uint64, error) { return in.call("FPDFPage_GetObject", page, uint64(i)) })
	return m.marks, err
}

func (m *marker) objects(n int, space matrix, depth int, get func(i int) (uint64, error)) error {
	for i := 0; i < n && m.seen < maxObjects && len(m.marks) < maxMarks; i++ {
		m.seen++
		object, err := get(i)
		if err != nil {
			return err
		}
		kind, err := m.in.call("FPDFPageObj_GetType", object)
		if err != nil {
			return err
		}
		switch kind {
		case objectPath:
			err = m.path(object, space)
		case objectImage:
			err = m.bounded(pdf.Picture, object, space)
		case objectForm:
			err = m.form(object, space, depth)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// bounded adds a mark of the object's bounds.
func (m *marker) bounded(kind pdf.MarkKind, object uint64, space matrix) error {
	box, ok, err := m.bounds(object, space)
	if ok {
		m.add(kind, box)
	}
	return err
}

func (m *marker) add(kind pdf.MarkKind, box pdf.Rect) {
	if !sane(box) || box.X1 < 0 || box.Y1 < 0 || box.X0 > m.frame.width() || box.Y0 > m.frame.height() {
		return
	}
	m.marks = append(m.marks, pdf.Mark{Kind: kind, Box: box})
}

func (m *marker) bounds(object uint64, space matrix) (pdf.Rect, bool, error) {
	at := uint64(m.in.scratch)
	ok, err := m.in.call("FPDFPageObj_GetBounds", object, at, at+4, at+8, at+12)
	if err != nil || uint32(ok) == 0 {
		return pdf.Rect{}, false, err
	}
	b := m.in.floats(4) // left, bottom, right, top
	return m.rect(b[0], b[1], b[2], b[3], space), true, nil
}

func (m *marker) rect(x0, y0, x1, y1 float32, space matrix) pdf.Rect {
	a, b := space.point(x0, y0)
	c, d := space.point(x1, y1)
	return m.frame.rect(min(a, c), min(b, d), max(a, c), max(b, d))
}

// form looks into a group of things; a small one is taken for one drawing.
func (m *marker) form(object uint64, space matrix, depth int) error {
	box, ok, err := m.bounds(object, space)
	if err != nil || !ok {
		return err
	}
	if box.Width()*box.Height() < smallForm*m.frame.width()*m.frame.height() || depth >= maxNesting {
		m.add(pdf.Drawing, box)
		return nil
	}
	if _, err := m.in.call("FPDFPageObj_GetMatrix", object, uint64(m.in.scratch)); err != nil {
		return err
	}
	f := m.in.floats(6)
	n, err := m.in.call("FPDFFormObj_CountObjects", object)
	if err != nil {
		return err
	}
	inner := matrix{f[0], f[1], f[2], f[3], f[4], f[5]}.within(space)
	return m.objects(int(int32(n)), inner, depth+1, func(i int) (uint64, error) {
		return m.in.call("FPDFFormObj_GetObject", object, uint64(i))
	})
}

// path tells lines, rectangles and other shapes apart.
func (m *marker) path(object uint64, space matrix) error {
	box, ok, err := m.bounds(object, space)
	if err != nil || !ok {
		return err
	}
	if box.Width() <= thin || box.Height() <= thin {
		m.add(pdf.Rule, box)
		return nil
	}
	count, err := m.in.call("FPDFPath_CountSegments", object)
	if err != nil {
		return err
	}
	n := int(int32(count))
	if n > maxSegments {
		m.add(pdf.Drawing, box)
		return nil
	}
	if space == identity {
		if _, err := m.in.call("FPDFPageObj_GetMatrix", object, uint64(m.in.scratch)); err != nil {
			return err
		}
		f := m.in.floats(6)
		space = matrix{f[0], f[1], f[2], f[3], f[4], f[5]}
	}
	lines, straight, err := m.lines(object, n, space)
	switch {
	case err != nil:
		return err
	case !straight:
		m.add(pdf.Drawing, box)
	case n <= 6 && encloses(lines, box):
		m.add(pdf.Frame, box)
	default:
		for _, l := range lines {
			m.add(pdf.Rule, l)
		}
	}
	return nil
}

// encloses tells whether the lines are the four sides of a box.
func encloses(lines []pdf.Rect, box pdf.Rect) bool {
	if len(lines) < 3 || len(lines) > 5 {
		return false
	}
	var all pdf.Rect
	for _, l := range lines {
		all = all.Union(l)
	}
	return all.Width() > 0.8*box.Width() && all.Height() > 0.8*box.Height()
}

// lines returns the segments of a path, if all run along the page's edges.
func (m *marker) lines(object uint64, n int, space matrix) (out []pdf.Rect, straight bool, err error) {
	const moveTo, lineTo = 2, 0
	var x, y float32
	for i := range n {
		segment, err := m.in.call("FPDFPath_GetPathSegment", object, uint64(i))
		if err != nil {
			return nil, false, err
		}
		kind, err := m.in.call("FPDFPathSegment_GetType", segment)
		if err != nil {
			return nil, false, err
		}
		at := uint64(m.in.scratch)
		if _, err := m.in.call("FPDFPathSegment_GetPoint", segment, at, at+4); err != nil {
			return nil, false, err
		}
		p := m.in.floats(2)
		switch int32(kind) {
		case moveTo:
		case lineTo:
			if r := m.rect(x, y, p[0], p[1], space); r.Width() <= 1 || r.Height() <= 1 {
				if r.Width() > thin || r.Height() > thin {
					out = append(out, r)
				}
			} else {
				return nil, false, nil
			}
		default:
			return nil, false, nil
		}
		x, y = p[0], p[1]
	}
	return out, true, nil
}
