package pdfium

import (
	"encoding/binary"
	"fmt"
	"jardinet/pdf"
	"math"
	"strings"
)

// maxGlyphs bounds the characters kept of one page; a dense page has 10,000.
const maxGlyphs = 400_000

// page reads one page of the open file.
func (in *instance) page(number int) (*pdf.Page, error) {
	handle, err := in.call("FPDF_LoadPage", uint64(in.doc), uint64(number-1))
	if err != nil {
		return nil, err
	}
	if handle == 0 {
		return nil, fmt.Errorf("%w: it is damaged", pdf.ErrPageBroke)
	}
	defer in.call("FPDF_ClosePage", handle)
	frame, err := in.frame(handle)
	if err != nil {
		return nil, err
	}
	text, err := in.call("FPDFText_LoadPage", handle)
	if err != nil {
		return nil, err
	}
	if text == 0 {
		return nil, fmt.Errorf("%w: its text is damaged", pdf.ErrPageBroke)
	}
	defer in.call("FPDFText_ClosePage", text)
	page := &pdf.Page{Number: number, Width: frame.width(), Height: frame.height()}
	if page.Glyphs, err = in.glyphs(text, frame); err != nil {
		return nil, err
	}
	written, err := in.written(handle, frame)
	if err != nil {
		return nil, err
	}
	page.Glyphs = append(page.Glyphs, written...)
	page.Fonts = in.fonts
	if page.Marks, err = in.marks(handle, frame); err != nil {
		return nil, err
	}
	if page.Tags, err = in.tags(handle, frame); err != nil {
		return nil, err
	}
	page.Links, err = in.links(handle, frame)
	return page, err
}

// A frame maps PDF user space onto the page as displayed.
type frame struct {
	left, bottom, right, top float32
	turn                     int // quarter turns clockwise
}

func (f frame) width() float32 {
	if f.turn%2 == 1 {
		return f.top - f.bottom
	}
	return f.right - f.left
}

func (f frame) height() float32 {
	if f.turn%2 == 1 {
		return f.right - f.left
	}
	return f.top - f.bottom
}

func (f frame) point(x, y float32) (float32, float32) {
	switch f.turn {
	case 1:
		return y - f.bottom, x - f.left
	case 2:
		return f.right - x, y - f.bottom
	case 3:
		return f.top - y, f.right - x
	}
	return x - f.left, f.top - y
}

func (f frame) rect(left, bottom, right, top float32) pdf.Rect {
	x0, y0 := f.point(left, bottom)
	x1, y1 := f.point(right, top)
	return pdf.Rect{X0: min(x0, x1), Y0: min(y0, y1), X1: max(x0, x1), Y1: max(y0, y1)}
}

func (in *instance) frame(page uint64) (frame, error) {
	if _, err := in.call("FPDF_GetPageBoundingBox", page, uint64(in.scratch)); err != nil {
		return frame{}, err
	}
	// FS_RECTF is left, top, right, bottom.
	box := in.floats(4)
	turn, err := in.call("FPDFPage_GetRotation", page)
	if err != nil {
		return frame{}, err
	}
	f := frame{left: box[0], top: box[1], right: box[2], bottom: box[3], turn: int(turn) & 3}
	if !(f.right > f.left) || !(f.top > f.bottom) {
		f.left, f.bottom, f.right, f.top = 0, 0, 612, 792
	}
	return f, nil
}

// floats reads n 32-bit floats from the scratch memory.
func (in *instance) floats(n int) (out [8]float32) {
	raw, ok := in.module.Memory().Read(in.scratch, uint32(4*n))
	if !ok {
		return out
	}
	for i := range n {
		out[i] = math.Float32frombits(binary.LittleEndian.Uint32(raw[4*i:]))
	}
	return out
}

// A run is what the characters of one text object share.
type run struct {
	object uint32
	font   int32
	size   float32
	turn   pdf.Turn
	rise   float32 // from the bottom of the box up to the baseline
	risen  bool    // rise is known
}

// glyphs reads the characters of a text page.
func (in *instance) glyphs(text uint64, f frame) ([]pdf.Glyph, error) {
	n, err := in.call("FPDFText_CountChars", text)
	if err != nil {
		return nil, err
	}
	count := min(max(int(int32(n)), 0), maxGlyphs)
	out := make([]pdf.Glyph, 0, count)
	current := run{}
	for i := range count {
		object, err := in.invoke(in.glyph.object, text, uint64(i))
		if err != nil {
			return nil, err
		}
		if object == 0 {
			continue // a space or line end that PDFium made up
		}
		if uint32(object) != current.object {
			if current, err = in.textRun(uint32(object), f.turn); err != nil {
				return nil, err
			}
		}
		g, err := in.character(text, uint64(i), f, &current)
		if err != nil {
			return nil, err
		}
		if g.Rune != 0 && sane(g.Box) {
			out = append(out, g)
		}
	}
	return out, nil
}

// character reads what differs from one character of a run to the next.
func (in *instance) character(text, i uint64, f frame, r *run) (pdf.Glyph, error) {
	g := pdf.Glyph{Size: r.size, Font: r.font, Turn: r.turn}
	code, err := in.invoke(in.glyph.unicode, text, i)
	if err != nil {
		return g, err
	}
	if g.Rune = drawn(rune(uint32(code))); g.Rune == 0 {
		return g, nil
	}
	if _, err := in.invoke(in.glyph.looseBox, text, i, uint64(in.scratch)); err != nil {
		return g, err
	}
	box := in.floats(4)
	g.Box = f.rect(box[0], box[3], box[2], box[1])
	if !r.risen || g.Turn != pdf.Upright {
		y, err := in.origin(text, i, f)
		if err != nil {
			return g, err
		}
		r.rise, r.risen = g.Box.Y1-y, true
	}
	g.Baseline = g.Box.Y1 - r.rise
	return g, nil
}

// origin returns the Y of the point that a character was drawn at. Upright
// text needs it once a run: boxes go from ascent to descent of the font.
func (in *instance) origin(text, i uint64, f frame) (float32, error) {
	at := uint64(in.scratch)
	if _, err := in.invoke(in.glyph.origin, text, i, at, at+8); err != nil {
		return 0, err
	}
	raw, _ := in.module.Memory().Read(in.scratch, 16)
	x := math.Float64frombits(binary.LittleEndian.Uint64(raw))
	y := math.Float64frombits(binary.LittleEndian.Uint64(raw[8:]))
	_, baseline := f.point(float32(x), float32(y))
	return baseline, nil
}

// drawn maps PDFium's code for a character to a rune, 0 for none.
func drawn(r rune) rune {
	switch {
	case r == 2: // PDFium's mark for a hyphen at the end of a line
		return '-'
	case r < ' ', r == 0x7f, r == 0xfffe, r == 0xffff, r == 0xfeff, r > 0x10ffff:
		return 0
	case r == 0xa0, r == 0x202f, r == 0x2007:
		return ' '
	}
	return r
}

func sane(r pdf.Rect) bool {
	const far = 1e5
	return r.X0 > -far && r.Y0 > -far && r.X1 < far && r.Y1 < far && r.X1 >= r.X0 && r.Y1 >= r.Y0
}

// textRun reads font, size and direction of a text object.
func (in *instance) textRun(object uint32, pageTurn int) (run, error) {
	r := run{object: object, size: 1}
	if _, err := in.call("FPDFTextObj_GetFontSize", uint64(object), uint64(in.scratch)); err != nil {
		return r, err
	}
	size := in.floats(1)[0]
	if _, err := in.call("FPDFPageObj_GetMatrix", uint64(object), uint64(in.scratch)); err != nil {
		return r, err
	}
	m := in.floats(4)
	r.size = size * float32(math.Hypot(float64(m[2]), float64(m[3])))
	r.turn = direction(float64(m[0]), float64(m[1]), pageTurn)
	font, err := in.call("FPDFTextObj_GetFont", uint64(object))
	if err != nil {
		return r, err
	}
	index, known := in.index[uint32(font)]
	if !known {
		if index, err = in.addFont(font); err != nil {
			return r, err
		}
	}
	r.font = index
	return r, nil
}

// direction classifies the baseline vector (a, b) of upward user space.
func direction(a, b float64, pageTurn int) pdf.Turn {
	angle := math.Atan2(-b, a) * 180 / math.Pi // clockwise
	quarter := math.Round(angle / 90)
	if math.Abs(angle-quarter*90) > 3 {
		return pdf.Slanted
	}
	return pdf.Turn((int(quarter) + pageTurn + 8) % 4)
}

func (in *instance) addFont(font uint64) (int32, error) {
	n, err := in.call("FPDFFont_GetBaseFontName", font, uint64(in.scratch), 256)
	if err != nil {
		return 0, err
	}
	raw, _ := in.module.Memory().Read(in.scratch, uint32(min(n, 256)))
	name := strings.TrimRight(string(raw), "\x00")
	if len(name) > 7 && name[6] == '+' { // the prefix of a subset
		name = name[7:]
	}
	flags, err := in.call("FPDFFont_GetFlags", font)
	if err != nil {
		return 0, err
	}
	weight, err := in.call("FPDFFont_GetWeight", font)
	if err != nil {
		return 0, err
	}
	index := int32(len(in.fonts))
	in.fonts = append(in.fonts, describe(name, int32(flags), int32(weight)))
	in.index[uint32(font)] = index
	return index, nil
}

// describe reads the style out of flags, weight and, since many producers set
// neither, the name.
func describe(name string, flags, weight int32) pdf.Font {
	low := strings.ToLower(name)
	has := func(parts ...string) bool {
		for _, p := range parts {
			if strings.Contains(low, p) {
				return true
			}
		}
		return false
	}
	flag := func(bit int32) bool { return flags > 0 && flags&bit != 0 }
	return pdf.Font{
		Name:   name,
		Bold:   weight >= 600 && !has("roman", "regular", "light", "book", "cmr", "cmss1", "cmsl", "cmti", "cmtt", "cmcsc", "sfrm") || flag(1<<18) || has("bold", "black", "heavy", "cmbx", "cmssbx", "medi"),
		Italic: flag(1<<6) || has("italic", "oblique", "cmti", "cmsl", "ital", "obli"),
		Fixed:  flag(1) || has("mono", "courier", "cmtt", "typewriter", "consol"),
	}
}
