// Package rendition sets files that are no PDF on pages: Word and OpenDocument texts,
// presentations, workbooks, books, web pages, Markdown, RTF, plain text, tables of separated
// values, e-mail, and pictures.
//
// Each is read into headings, paragraphs, items of lists and tables, and these are set as a PDF
// with bookmarks, ruled tables and numbered pages. So what comes after, from the reading of the
// layout to the marked line on the page's picture, is the same for every kind of file, and every
// answer can be cited by a page that people can look at. The same file always gives the same pages.
package rendition

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"path/filepath"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/net/html/charset"
)

// A Text is what a file holds, in its order.
type Text struct {
	Title  string
	Blocks []Block

	tooLarge error    // what was left out, since there is too much of it
	picture  *picture // that the whole of it is
}

// A Block is one thing of a text.
type Block struct {
	Kind  Kind
	Apart bool       // begins a page
	Level int        // of a heading or an item, from 1
	Mark  string     // of an item: a bullet or its number
	Text  string     // with line breaks where they matter
	Rows  [][]string // of a table; the first has the columns' heads
}

// A Kind tells what a block is.
type Kind uint8

// Kinds of blocks.
const (
	Paragraph Kind = iota
	Heading
	Item
	Table
)

// ErrUnknown says that a file is of no kind that can be read here.
var ErrUnknown = errors.New("of a kind that cannot be read")

// ErrDamaged says that a file is of a kind that can be read, and cannot be.
var ErrDamaged = errors.New("the file is damaged")

// ErrTooLarge says that more is in a file than is read.
var ErrTooLarge = errors.New("the file holds too much")

// Limits of a file.
const (
	mostUnpacked = 64 << 20  // bytes of all parts of a packed file
	mostElements = 2_000_000 // of a part
	mostMarked   = 8 << 20   // bytes of a web page
	mostLetters  = 4_000_000 // bytes of text
	mostCells    = 500_000   // of a table, empty ones too
)

// A format is a kind of file.
type format struct {
	name string // for people
	read func(data []byte) (*Text, error)
}

// Mail is how an e-mail is named.
const Mail = "an e-mail"

var (
	word      = format{"a Word document", readWord}
	slides    = format{"a presentation", readSlides}
	open      = format{"an OpenDocument text", readOpenDocument}
	calc      = format{"an OpenDocument workbook", readOpenDocument}
	workbook  = format{"a workbook", readWorkbook}
	book      = format{"an EPUB book", readBook}
	page      = format{"a web page", readHTML}
	markdown  = format{"a Markdown text", readMarkdown}
	plain     = format{"a text file", readPlain}
	separated = format{"a table of separated values", readSeparated}
	mail      = format{Mail, readMail}
	rich      = format{"an RTF document", readRTF}
	photo     = format{"a picture", readPicture}
)

// Named names the kind of a file that can be read, for people; empty for others. It goes by the
// content, and by the name only to tell texts apart.
func Named(name string, data []byte) string {
	if f, _ := formatOf(name, data); f != nil {
		return f.name
	}
	return ""
}

// Read reads a file. Its errors are ErrUnknown, ErrDamaged and ErrTooLarge.
func Read(name string, data []byte) (t *Text, err error) {
	defer func() {
		if p := recover(); p != nil {
			t, err = nil, fmt.Errorf("%w: %v", ErrDamaged, p)
		}
	}()
	f, data := formatOf(name, data)
	if f == nil {
		return nil, ErrUnknown
	}
	if t, err = f.read(data); errors.Is(err, ErrTooLarge) {
		return nil, err
	} else if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrDamaged, err)
	}
	if t.tooLarge != nil {
		return nil, fmt.Errorf("%w: %w", ErrTooLarge, t.tooLarge)
	}
	size := 0
	for _, b := range t.Blocks {
		size += len(b.Text)
		for _, row := range b.Rows {
			for _, cell := range row {
				size += len(cell)
			}
		}
	}
	if size > mostLetters {
		return nil, fmt.Errorf("%w: it has more than %d million letters", ErrTooLarge, mostLetters/1_000_000)
	}
	if t.Title == "" {
		t.Title = titleOf(name, t)
	}
	return t, nil
}

// titleOf is the first heading of a text, or its file's name.
func titleOf(name string, t *Text) string {
	for _, b := range t.Blocks {
		if b.Kind == Heading {
			return b.Text
		}
	}
	return strings.TrimSuffix(name, filepath.Ext(name))
}

// formatOf tells what a file is, and returns what its format reads: texts in UTF-8.
func formatOf(name string, data []byte) (*format, []byte) {
	if bytes.HasPrefix(data, []byte("PK\x03\x04")) {
		return packed(data), data
	}
	if bytes.HasPrefix(data, []byte(`{\rtf`)) {
		return &rich, data
	}
	if isPicture(data) {
		return &photo, data
	}
	if isMail(data) {
		return &mail, data // each of its parts says how it is written
	}
	if data = decoded(data); !isText(data) {
		return nil, nil
	}
	return textFormat(strings.ToLower(filepath.Ext(name)), data), data
}

// textFormat tells what a text is, by how it begins and by the extension of its file's name.
func textFormat(extension string, data []byte) *format {
	start := strings.ToLower(strings.TrimSpace(string(data[:min(len(data), 512)])))
	switch {
	case strings.HasPrefix(start, "<!doctype html"), strings.HasPrefix(start, "<html"), extension == ".html" && strings.HasPrefix(start, "<"), extension == ".htm" && strings.HasPrefix(start, "<"):
		return &page
	case extension == ".csv", extension == ".tsv":
		return &separated
	case extension == ".md", extension == ".markdown":
		return &markdown
	case strings.HasPrefix(start, "%!"), strings.HasPrefix(start, "{\\rtf"), strings.HasPrefix(start, "<?xml"):
		return nil
	}
	return &plain
}

// decoded returns a text as UTF-8: by its mark of order, by what a web page says of itself, and
// else, if it is nothing else, from Windows-1252.
func decoded(data []byte) []byte {
	if utf8.Valid(data) {
		return bytes.TrimPrefix(data, []byte("\ufeff"))
	}
	r, err := charset.NewReader(bytes.NewReader(data), "")
	if err != nil {
		return data
	}
	out, err := io.ReadAll(r)
	if err != nil {
		return data
	}
	return out
}

// isText tells whether there is something, and nothing that no text holds.
func isText(data []byte) bool {
	if len(bytes.TrimSpace(data)) == 0 || !utf8.Valid(data) {
		return false
	}
	return bytes.IndexFunc(data, func(r rune) bool {
		return unicode.IsControl(r) && !strings.ContainsRune("\n\r\t\f\v\u0085", r)
	}) < 0
}

// paragraph adds a paragraph if there is anything in it.
func (t *Text) paragraph(s string) {
	if s = strings.TrimSpace(s); s != "" {
		t.Blocks = append(t.Blocks, Block{Kind: Paragraph, Text: s})
	}
}

func (t *Text) heading(level int, s string) {
	if s = oneLine(s); s != "" {
		t.Blocks = append(t.Blocks, Block{Kind: Heading, Level: min(max(level, 1), 6), Text: s})
	}
}

func (t *Text) item(level int, mark, s string) {
	if s = strings.TrimSpace(s); s != "" {
		t.Blocks = append(t.Blocks, Block{Kind: Item, Level: max(level, 1), Mark: mark, Text: s})
	}
}

// table adds a table, its rows made as long as each other.
func (t *Text) table(rows [][]string) {
	columns := 0
	for _, r := range rows {
		columns = max(columns, len(r))
	}
	if columns == 0 {
		return
	}
	if len(rows)*columns > mostCells {
		t.tooLarge = fmt.Errorf("a table has %d rows and %d columns, and %d cells are read at most", len(rows), columns, mostCells)
		return
	}
	for i := range rows {
		for len(rows[i]) < columns {
			rows[i] = append(rows[i], "")
		}
	}
	t.Blocks = append(t.Blocks, Block{Kind: Table, Rows: rows})
}

func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }
