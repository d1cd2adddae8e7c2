package pdfium

import (
	"math"
	"strings"

	"jardinet/pdf"
)

// Kinds of annotations, by their numbers in PDFium, that people write into.
const (
	freeText = 3
	widget   = 20
)

// Limits of what is written into a page.
const (
	maxAnnotations = 2000
	longestValue   = 4000 // characters
	largestLetter  = 11.0 // points
)

// isString is PDFium's number for a value that is a text; that of a check box is a name.
const isString = 3

// written returns what people wrote into a page: the values of a form's fields and texts set on it
// as annotations, which are no part of its own text. They stand in their boxes, line by line.
func (in *instance) written(page uint64, f frame) ([]pdf.Glyph, error) {
	count, err := in.call("FPDFPage_GetAnnotCount", page)
	if err != nil {
		return nil, err
	}
	var out []pdf.Glyph
	font := int32(-1)
	for i := range min(max(int(int32(count)), 0), maxAnnotations) {
		text, box, err := in.value(page, uint64(i), f)
		if err != nil {
			return nil, err
		}
		if text == "" || !sane(box) {
			continue
		}
		if font < 0 {
			font = int32(len(in.fonts))
			in.fonts = append(in.fonts, pdf.Font{Name: "Written"})
		}
		if out = append(out, set(text, box, font)...); len(out) > maxGlyphs {
			return out[:maxGlyphs], nil
		}
	}
	return out, nil
}

// value reads an annotation's text and where it stands; the text is empty for what is none.
func (in *instance) value(page, i uint64, f frame) (text string, box pdf.Rect, err error) {
	annotation, err := in.call("FPDFPage_GetAnnot", page, i)
	if err != nil || annotation == 0 {
		return "", box, err
	}
	defer in.call("FPDFPage_CloseAnnot", annotation)
	kind, err := in.call("FPDFAnnot_GetSubtype", annotation)
	if err != nil {
		return "", box, err
	}
	key := map[uint64]string{widget: "V", freeText: "Contents"}[kind]
	if key == "" {
		return "", box, nil
	}
	at := in.key(key)
	is, err := in.call("FPDFAnnot_GetValueType", annotation, at)
	if err != nil || is != isString {
		return "", box, err
	}
	text, err = in.utf16(func(buffer, size uint64) (uint64, error) {
		return in.call("FPDFAnnot_GetStringValue", annotation, at, buffer, size-keySize)
	})
	if err != nil {
		return "", box, err
	}
	if ok, err := in.call("FPDFAnnot_GetRect", annotation, uint64(in.scratch)); err != nil || ok == 0 {
		return "", box, err
	}
	r := in.floats(4) // left, top, right, bottom
	return cut(strings.TrimSpace(text), longestValue), f.rect(r[0], r[3], r[2], r[1]), nil
}

// set sets a text in a box, in letters that fit: lines that are too long go on in the next.
func set(text string, box pdf.Rect, font int32) []pdf.Glyph {
	size := min(largestLetter, box.Height()*0.8)
	wide := size * 0.5
	lines := broken(text, max(1, int(box.Width()/wide)))
	if high := float32(len(lines)) * size * 1.2; high > box.Height() {
		size *= max(box.Height()/high, 0.3)
	}
	var out []pdf.Glyph
	for i, line := range lines {
		letters := []rune(line)
		step := min(wide, box.Width()/float32(max(len(letters), 1)))
		top := box.Y0 + float32(i)*size*1.2
		for j, r := range letters {
			if r == ' ' {
				continue
			}
			x := box.X0 + float32(j)*step
			out = append(out, pdf.Glyph{Rune: r, Font: font, Size: size, Box: pdf.Rect{X0: x, Y0: top, X1: x + step*0.9, Y1: top + size}, Baseline: top + size*0.8})
		}
	}
	return out
}

// broken breaks a text into lines of so many letters, between words where it can.
func broken(text string, letters int) []string {
	var out []string
	for _, paragraph := range strings.FieldsFunc(text, func(r rune) bool { return r == '\n' || r == '\r' }) {
		line := ""
		for _, word := range strings.Fields(paragraph) {
			if line != "" && len([]rune(line))+1+len([]rune(word)) > letters && len(out) < math.MaxUint16 {
				out = append(out, line)
				line = ""
			}
			line = strings.TrimSpace(line + " " + word)
		}
		if line != "" {
			out = append(out, line)
		}
	}
	return out
}
