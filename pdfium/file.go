package pdfium

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"jardinet/pdf"
	"os"
	"strings"
	"time"
	"unsafe"
)

// maxPages bounds what a hostile page tree can make a reader do.
const maxPages = 50_000

// A File is one PDF on disk. It may be used by many goroutines.
type File struct {
	pdf.Info
	engine   *Engine
	path     string
	password string
}

// Open checks that the file at path is a PDF that can be opened and reads what
// it says of itself. The file must not change while it is in use.
func (e *Engine) Open(ctx context.Context, path, password string) (*File, error) {
	if err := e.check(path); err != nil {
		return nil, err
	}
	f := &File{engine: e, path: path, password: password}
	r, err := e.take(ctx, f, false)
	if err != nil {
		return nil, err
	}
	e.release(r)
	return f, nil
}

// check refuses what is not worth handing to a reader.
func (e *Engine) check(path string) error {
	file, err := os.Open(path)
	if err != nil {
		return fmt.Errorf("pdf: %w", err)
	}
	defer file.Close()
	stat, err := file.Stat()
	if err != nil {
		return fmt.Errorf("pdf: %w", err)
	}
	if stat.Size() > e.FileSize {
		return fmt.Errorf("%w: %d MiB, the limit is %d MiB", pdf.ErrTooLarge, stat.Size()>>20, e.FileSize>>20)
	}
	// The header may follow some rubbish, by PDF 1.7, appendix H.
	head := make([]byte, 1024)
	n, err := io.ReadFull(file, head)
	if err != nil && !errors.Is(err, io.ErrUnexpectedEOF) && !errors.Is(err, io.EOF) {
		return fmt.Errorf("pdf: %w", err)
	}
	if !bytes.Contains(head[:n], []byte("%PDF-")) {
		return pdf.ErrNotPDF
	}
	return nil
}

// ReadPages reads the pages from first to last, inclusive, with one reader at a time and
// hands each to visit as it comes. A page that cannot be read is handed over
// without glyphs and with a *PageError; the others go on.
func (f *File) ReadPages(ctx context.Context, first, last int, visit func(*pdf.Page, error) error) error {
	tries := 0
	for number := first; number <= last; {
		next, err := f.readRun(ctx, number, last, tries < retries, visit)
		if err != nil {
			return err
		}
		if tries++; next != number {
			tries = 0
		}
		number = next
	}
	return nil
}

// turn is how long a file keeps a reader for which others wait.
const turn = 3 * time.Second

// readRun reads until the end, until the reader breaks or until it is others' turn, and
// returns the number of the next page to read. That of a page over which the reader died
// is returned if it is to be tried again with another.
func (f *File) readRun(ctx context.Context, number, last int, again bool, visit func(*pdf.Page, error) error) (int, error) {
	r, err := f.engine.take(ctx, f, false)
	if err != nil {
		return 0, err
	}
	defer f.engine.release(r)
	if err := r.request(request{First: number, Last: last}); err != nil {
		return number, nil // it died idle; take another
	}
	began := time.Now()
	for ; number <= last && !r.broken; number++ {
		if time.Since(began) > turn && f.engine.wanted() {
			r.broken = true // it would go on to the last page
			return number, nil
		}
		answer, err := r.next(ctx, f.engine.PageTime)
		if cause := ctx.Err(); cause != nil {
			return 0, cause
		}
		if errors.Is(err, errCrash) && again {
			return number, nil
		}
		page := &pdf.Page{Number: number}
		if err != nil {
			err = pageError(number, err)
		} else {
			page = &answer.Page
			page.Glyphs = bytesGlyphs(answer.Glyphs)
		}
		if err := visit(page, err); err != nil {
			r.broken = true // replies are still on their way
			return 0, err
		}
	}
	return number, nil
}

func pageError(number int, err error) error {
	if !errors.Is(err, pdf.ErrTooLarge) && !errors.Is(err, pdf.ErrPageBroke) {
		err = fmt.Errorf("%w: %w", pdf.ErrPageBroke, err)
	}
	return &pdf.PageError{Page: number, Err: err}
}

// Picture draws a page at the given resolution, on white, as PNG.
func (f *File) Picture(ctx context.Context, number int, dpi float64) ([]byte, error) {
	if number < 1 || number > f.Info.Pages {
		return nil, fmt.Errorf("pdf: there is no page %d of %d", number, f.Info.Pages)
	}
	for try := 0; ; try++ {
		picture, err := f.draw(ctx, number, dpi)
		if !errors.Is(err, errCrash) || try == retries {
			return picture, err
		}
	}
}

func (f *File) draw(ctx context.Context, number int, dpi float64) ([]byte, error) {
	r, err := f.engine.take(ctx, f, true)
	if err != nil {
		return nil, err
	}
	defer f.engine.release(r)
	if err := r.request(request{First: number, DPI: dpi}); err != nil {
		return nil, pageError(number, err)
	}
	answer, err := r.next(ctx, f.engine.PageTime)
	if cause := ctx.Err(); cause != nil {
		return nil, cause
	}
	if err != nil {
		return nil, pageError(number, err)
	}
	return answer.Picture, nil
}

// openPath opens a file inside the reader and reads what it says of itself.
func (in *instance) openPath(path, password string) (pdf.Info, error) {
	data, err := os.ReadFile(path)
	if err != nil {
		return pdf.Info{}, err
	}
	if err := in.open(data, password); err != nil {
		return pdf.Info{}, err
	}
	if in.pages <= 0 {
		return pdf.Info{}, fmt.Errorf("%w: it has no pages", pdf.ErrDamaged)
	}
	if in.pages > maxPages {
		return pdf.Info{}, fmt.Errorf("%w: %d pages, the limit is %d", pdf.ErrTooLarge, in.pages, maxPages)
	}
	info := pdf.Info{Pages: in.pages, Labels: make([]string, in.pages)}
	if info.Title, err = in.meta("Title"); err != nil {
		return info, err
	}
	info.Title = cut(info.Title, longestTitle)
	for i := range info.Labels {
		info.Labels[i], err = in.utf16(func(at, size uint64) (uint64, error) {
			return in.call("FPDF_GetPageLabel", uint64(in.doc), uint64(i), at, size)
		})
		if err != nil {
			return info, err
		}
		info.Labels[i] = cut(info.Labels[i], longestLabel)
	}
	if info.Outline, err = in.outline(); err != nil {
		return info, err
	}
	if info.Attachments, err = in.attachments(); err != nil {
		return info, err
	}
	info.About, err = in.about()
	return info, err
}

// abouts are what a file may say of itself, by the names that documents' fields have.
var abouts = map[string]string{"Author": "author", "Subject": "subject", "Keywords": "keywords", "CreationDate": "created", "ModDate": "modified"}

func (in *instance) about() (map[string]string, error) {
	out := map[string]string{}
	for key, field := range abouts {
		value, err := in.meta(key)
		if err != nil {
			return nil, err
		}
		if strings.HasSuffix(key, "Date") {
			value = day(value)
		}
		if value = strings.Join(strings.Fields(value), " "); value != "" {
			out[field] = cut(value, longestTitle)
		}
	}
	return out, nil
}

// day is the day of a PDF date, such as D:20250131120000Z; empty if it is none.
func day(date string) string {
	date = strings.TrimPrefix(date, "D:")
	if len(date) < 8 {
		return ""
	}
	at, err := time.Parse("20060102", date[:8])
	if err != nil {
		return ""
	}
	return at.Format(time.DateOnly)
}

// Lengths, in bytes, beyond which a title or a page's label is cut: a file can make them as
// long as it likes, and lists show them.
const (
	longestTitle = 500
	longestLabel = 40
)

func cut(s string, most int) string {
	if len(s) <= most {
		return s
	}
	return strings.ToValidUTF8(s[:most-len("…")], "") + "…"
}

func (in *instance) meta(key string) (string, error) {
	at := in.key(key)
	text, err := in.utf16(func(buf, size uint64) (uint64, error) {
		return in.call("FPDF_GetMetaText", uint64(in.doc), at, buf, size-keySize)
	})
	return strings.TrimSpace(text), err
}

// keySize is the room for a key, in bytes.
const keySize = 64

// key puts a key at the end of the scratch memory, out of the answer's way, and returns where.
func (in *instance) key(name string) uint64 {
	at := in.scratch + scratchSize - keySize
	in.module.Memory().Write(at, append([]byte(name), 0))
	return uint64(at)
}

// glyphBytes and bytesGlyphs view glyphs as bytes and back.
func glyphBytes(glyphs []pdf.Glyph) []byte {
	return unsafe.Slice((*byte)(unsafe.Pointer(unsafe.SliceData(glyphs))), len(glyphs)*int(unsafe.Sizeof(pdf.Glyph{})))
}

func bytesGlyphs(raw []byte) []pdf.Glyph {
	glyphs := make([]pdf.Glyph, len(raw)/int(unsafe.Sizeof(pdf.Glyph{})))
	copy(glyphBytes(glyphs), raw)
	return glyphs
}
