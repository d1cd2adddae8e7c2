package pdfium

import (
	"strings"

	"jardinet/pdf"
)

// Bounds on what a file may say of one page.
const (
	maxElements = 20_000
	maxTagDepth = 40
	longestAlt  = 1000 // bytes
)

// objectText is PDFium's number for text among the objects of a page.
const objectText = 1

// A tagger collects what a tagged file says of a page: which pieces of its content are headings,
// and what its pictures show. Pieces are known by numbers that the page's objects carry.
type tagger struct {
	in       *instance
	headings map[uint32]int    // levels by the number of the piece
	pictures map[uint32]string // what they show
	seen     int
}

// tags reads what the author of a tagged file says of a page (ISO 32000-1, 14.7).
func (in *instance) tags(page uint64, f frame) ([]pdf.Tag, error) {
	if !in.tagged {
		return nil, nil
	}
	tree, err := in.call("FPDF_StructTree_GetForPage", page)
	if err != nil || tree == 0 {
		return nil, err
	}
	defer in.call("FPDF_StructTree_Close", tree)
	t := &tagger{in: in, headings: map[uint32]int{}, pictures: map[uint32]string{}}
	n, err := in.call("FPDF_StructTree_CountChildren", tree)
	for i := 0; err == nil && i < int(int32(n)); i++ {
		var child uint64
		if child, err = in.call("FPDF_StructTree_GetChildAtIndex", tree, uint64(i)); err == nil && child != 0 {
			err = t.element(child, 0, "", 1)
		}
	}
	if err != nil || len(t.headings)+len(t.pictures) == 0 {
		return nil, err
	}
	return t.boxes(page, f)
}

// element looks into one element and those within it. A piece within a heading is part of it.
func (t *tagger) element(element uint64, heading int, alt string, depth int) error {
	if t.seen++; t.seen > maxElements || depth > maxTagDepth {
		return nil
	}
	kind, err := t.in.utf16(func(at, size uint64) (uint64, error) {
		return t.in.call("FPDF_StructElement_GetType", element, at, size)
	})
	if err != nil {
		return err
	}
	if level := headingLevel(kind); level > 0 {
		heading = level
	}
	if kind == "Figure" {
		alt, err = t.in.utf16(func(at, size uint64) (uint64, error) {
			return t.in.call("FPDF_StructElement_GetAltText", element, at, size)
		})
		if err != nil {
			return err
		}
		alt = cut(strings.Join(strings.Fields(alt), " "), longestAlt)
	}
	n, err := t.in.call("FPDF_StructElement_CountChildren", element)
	for i := 0; err == nil && i < int(int32(n)); i++ {
		err = t.child(element, uint64(i), heading, alt, depth)
	}
	return err
}

// child looks at a child of an element: another element, or the number of a piece.
func (t *tagger) child(element, i uint64, heading int, alt string, depth int) error {
	child, err := t.in.call("FPDF_StructElement_GetChildAtIndex", element, i)
	if err != nil {
		return err
	}
	if child != 0 {
		return t.element(child, heading, alt, depth+1)
	}
	id, err := t.in.call("FPDF_StructElement_GetChildMarkedContentID", element, i)
	if err != nil || int32(id) < 0 {
		return err
	}
	switch {
	case alt != "":
		t.pictures[uint32(id)] = alt
	case heading > 0:
		t.headings[uint32(id)] = heading
	}
	return nil
}

// headingLevel is the level of an element that is a heading, else 0.
func headingLevel(kind string) int {
	switch {
	case kind == "Title" || kind == "H":
		return 1
	case len(kind) == 2 && kind[0] == 'H' && kind[1] >= '1' && kind[1] <= '6':
		return int(kind[1] - '0')
	}
	return 0
}

// boxes finds where on the page the pieces stand: those of a heading one by one, those of a
// picture together.
func (t *tagger) boxes(page uint64, f frame) ([]pdf.Tag, error) {
	n, err := t.in.call("FPDFPage_CountObjects", page)
	if err != nil {
		return nil, err
	}
	m := &marker{in: t.in, frame: f}
	var out []pdf.Tag
	pictures := map[string]int{} // where in out
	for i := range min(max(int(int32(n)), 0), maxObjects) {
		object, err := t.in.call("FPDFPage_GetObject", page, uint64(i))
		if err != nil {
			return nil, err
		}
		id, err := t.in.call("FPDFPageObj_GetMarkedContentID", object)
		if err != nil {
			return nil, err
		}
		heading, alt := t.headings[uint32(id)], t.pictures[uint32(id)]
		if int32(id) < 0 || heading == 0 && alt == "" {
			continue
		}
		kind, err := t.in.call("FPDFPageObj_GetType", object)
		if err != nil {
			return nil, err
		}
		box, ok, err := m.bounds(object, identity)
		if err != nil {
			return nil, err
		}
		if !ok || !sane(box) || heading > 0 && kind != objectText {
			continue
		}
		if at, known := pictures[alt]; alt != "" && known {
			out[at].Box = out[at].Box.Union(box)
			continue
		} else if alt != "" {
			pictures[alt] = len(out)
		}
		out = append(out, pdf.Tag{Heading: heading, Box: box, Text: alt})
	}
	return out, nil
}
