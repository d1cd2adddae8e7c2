// Package pdf has what is read from PDF files: every glyph with its box, font and size,
// what else is drawn, the outline and the printed page labels. Package pdfium reads them.
//
// All coordinates are in points (1/72 inch) with the origin at the top left of
// the page as it is displayed, after the page's own rotation and crop box.
package pdf

import (
	"errors"
	"fmt"
)

// A Rect is a box in points, X to the right and Y downwards.
type Rect struct {
	X0, Y0, X1, Y1 float32
}

// Width returns the horizontal extent in points.
func (r Rect) Width() float32 { return r.X1 - r.X0 }

// Height returns the vertical extent in points.
func (r Rect) Height() float32 { return r.Y1 - r.Y0 }

// Union returns the smallest box around both; an empty box adds nothing.
func (r Rect) Union(s Rect) Rect {
	if r == (Rect{}) {
		return s
	}
	if s == (Rect{}) {
		return r
	}
	return Rect{min(r.X0, s.X0), min(r.Y0, s.Y0), max(r.X1, s.X1), max(r.Y1, s.Y1)}
}

// A Font is one typeface of a file.
type Font struct {
	Name   string // PostScript name without the subset prefix
	Bold   bool
	Italic bool
	Fixed  bool // every glyph has the same width
}

// A Glyph is one drawn character.
type Glyph struct {
	Rune     rune
	Box      Rect    // from ascent to descent, not the ink
	Baseline float32 // Y of the line that the glyph stands on
	Size     float32 // font size in points as displayed
	Font     int32   // index into Page.Fonts
	Turn     Turn
}

// A Turn is the direction in which text runs on the page.
type Turn uint8

// Directions of text, in quarter turns clockwise from left to right.
const (
	Upright Turn = iota
	Down
	UpsideDown
	Up
	Slanted // at any other angle, such as a watermark's
)

// A Page is what was drawn on one page.
type Page struct {
	Number int // physical, from 1
	Width  float32
	Height float32
	Glyphs []Glyph // in the order of the file
	Fonts  []Font
	Marks  []Mark // what is drawn beside text, in the order of the file
	Tags   []Tag  // what the author of a tagged file says of parts of the page
	Links  []Link // to addresses outside the file
}

// A Tag is what the author of a file says that a part of a page is.
type Tag struct {
	Heading int    // the level of a heading, from 1; 0 for a picture
	Box     Rect   // of the ink
	Text    string // of a picture: what it shows, in words
}

// A Link is a part of a page that leads to an address.
type Link struct {
	Box    Rect
	Target string // http, https or mailto
}

// A Mark is something drawn that is no text.
type Mark struct {
	Kind MarkKind
	Box  Rect
}

// A MarkKind tells how a mark is drawn.
type MarkKind uint8

// Kinds of mark.
const (
	Rule    MarkKind = iota // a straight horizontal or vertical line
	Frame                   // a rectangle, its border or its area
	Drawing                 // any other path, or a group of things drawn together
	Picture                 // an image, which may hold text that only OCR can read
)

// A Bookmark is one entry of the outline.
type Bookmark struct {
	Title string
	Level int     // from 1
	Page  int     // physical, from 1; 0 when it leads nowhere
	Y     float32 // top of the target in points, or -1 for the whole page
}

// Info is what a file says of itself.
type Info struct {
	Pages   int
	Title   string
	Labels  []string // printed page labels by page, empty where the file names none
	Outline []Bookmark
	About   map[string]string // what else the file says of itself, such as its author

	Attachments []string // names of the files within it
}

// Reasons for which a file cannot be read; errors.Is finds them.
var (
	ErrNotPDF    = errors.New("not a PDF file")
	ErrDamaged   = errors.New("the file is damaged and cannot be opened")
	ErrPassword  = errors.New("a password is needed to open the file")
	ErrSecurity  = errors.New("the file is encrypted in a way that cannot be read")
	ErrTooLarge  = errors.New("the file is too large")
	ErrPageBroke = errors.New("the page cannot be read")
)

// A PageError tells which page could not be read and why.
type PageError struct {
	Page int
	Err  error
}

func (e *PageError) Error() string { return fmt.Sprintf("page %d: %v", e.Page, e.Err) }
func (e *PageError) Unwrap() error { return e.Err }
