package pdfium

import (
	"bytes"
	"context"
	"errors"
	"image/png"
	"jardinet/pdf"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"
)

func TestMain(m *testing.M) {
	ServeReader()
	os.Exit(m.Run())
}

// documents is where the demo's files are.
const documents = "../demo/documents/"

func codeCache(t *testing.T) string {
	dir, err := os.UserCacheDir()
	if err != nil {
		return t.TempDir()
	}
	return filepath.Join(dir, "jardinet", "code")
}

func engine(t *testing.T, opts Options) *Engine {
	t.Helper()
	opts.Cache = codeCache(t)
	e := NewEngine(opts)
	t.Cleanup(func() { e.Close() })
	return e
}

func open(t *testing.T, e *Engine, path string) *File {
	t.Helper()
	f, err := e.Open(t.Context(), path, "")
	if err != nil {
		t.Fatalf("open %s: %v", path, err)
	}
	return f
}

func readAll(t *testing.T, f *File) []*pdf.Page {
	t.Helper()
	var pages []*pdf.Page
	err := f.ReadPages(t.Context(), 1, f.Info.Pages, func(p *pdf.Page, err error) error {
		pages = append(pages, p)
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	return pages
}

func words(p *pdf.Page) string {
	var b strings.Builder
	for _, g := range p.Glyphs {
		b.WriteRune(g.Rune)
	}
	return b.String()
}

func TestModule(t *testing.T) {
	if !bytes.HasPrefix(pdfiumWasm, []byte("\x00asm")) {
		t.Fatalf("the linked name holds %d bytes that are no WebAssembly; has the package moved it?", len(pdfiumWasm))
	}
}

func TestReadPages(t *testing.T) {
	f := open(t, engine(t, Options{}), documents+"glasshouse-manual.pdf")
	pages := readAll(t, f)
	if len(pages) != f.Info.Pages || f.Info.Pages < 40 {
		t.Fatalf("read %d pages of %d", len(pages), f.Info.Pages)
	}
	if f.Title != "Glasshouse Operating Manual" {
		t.Errorf("title is %q", f.Title)
	}
	for i, p := range pages {
		if p.Number != i+1 {
			t.Errorf("page %d came in place of %d", p.Number, i+1)
		}
		if p.Width < 590 || p.Width > 600 || p.Height < 840 || p.Height > 845 {
			t.Errorf("page %d measures %g by %g points, want A4", p.Number, p.Width, p.Height)
		}
		for _, g := range p.Glyphs {
			if g.Box.X0 < 0 || g.Box.Y0 < 0 || g.Box.X1 > p.Width || g.Box.Y1 > p.Height || g.Baseline < g.Box.Y0 || g.Baseline > g.Box.Y1 {
				t.Fatalf("page %d: glyph %q at %v with baseline %g is off the page", p.Number, g.Rune, g.Box, g.Baseline)
			}
			if int(g.Font) >= len(p.Fonts) || g.Size < 5 || g.Size > 30 {
				t.Fatalf("page %d: glyph %q has font %d of %d in size %g", p.Number, g.Rune, g.Font, len(p.Fonts), g.Size)
			}
		}
	}
	if !strings.Contains(words(pages[0]), "GlasshouseOperatingManual") && !strings.Contains(words(pages[0]), "Glasshouse Operating Manual") {
		t.Errorf("the cover reads %q", words(pages[0]))
	}
}

func TestOutline(t *testing.T) {
	f := open(t, engine(t, Options{}), documents+"glasshouse-manual.pdf")
	found := 0
	for _, b := range f.Outline {
		if b.Title == "2.2 Set points of all houses" {
			found++
			if b.Level != 2 || b.Page != 8 || b.Y < 0 {
				t.Errorf("bookmark is at level %d, page %d, height %g", b.Level, b.Page, b.Y)
			}
		}
	}
	if found != 1 {
		t.Errorf("section 2.2 stands %d times among %d bookmarks", found, len(f.Outline))
	}
}

func TestFontStyles(t *testing.T) {
	f := open(t, engine(t, Options{}), documents+"storm-damage-report.pdf")
	bold := false
	for _, font := range readAll(t, f)[0].Fonts {
		bold = bold || font.Bold
	}
	if !bold {
		t.Error("no bold font on a page with headings")
	}
	for name, want := range map[string]pdf.Font{
		"CMBX12":             {Name: "CMBX12", Bold: true},
		"Arial-BoldItalicMT": {Name: "Arial-BoldItalicMT", Bold: true, Italic: true},
		"Courier":            {Name: "Courier", Fixed: true},
		"Times-Roman":        {Name: "Times-Roman"},
	} {
		if got := describe(name, 0, 0); got != want {
			t.Errorf("describe(%s) = %+v", name, got)
		}
	}
}

func TestPicture(t *testing.T) {
	f := open(t, engine(t, Options{}), documents+"visitor-incident-form.pdf")
	data, err := f.Picture(t.Context(), 1, 72)
	if err != nil {
		t.Fatal(err)
	}
	picture, err := png.Decode(bytes.NewReader(data))
	if err != nil {
		t.Fatal(err)
	}
	if b := picture.Bounds(); b.Dx() != 595 || b.Dy() != 842 {
		t.Errorf("the picture measures %v", b)
	}
	dark := 0
	for y := range 842 {
		for x := range 595 {
			if r, _, _, _ := picture.At(x, y).RGBA(); r < 0x4000 {
				dark++
			}
		}
	}
	if dark < 1000 {
		t.Errorf("the picture has %d dark pixels, too few for a page of text", dark)
	}
	if _, err := f.Picture(t.Context(), 2, 72); err == nil {
		t.Error("a page that does not exist was drawn")
	}
	if _, err := f.Picture(t.Context(), 1, 5000); !errors.Is(err, pdf.ErrTooLarge) {
		t.Errorf("a gigantic picture gives %v", err)
	}
}

func TestScanHasOnlyImages(t *testing.T) {
	f := open(t, engine(t, Options{}), documents+"boiler-memo-scan.pdf")
	p := readAll(t, f)[0]
	if len(p.Glyphs) != 0 || len(p.Marks) != 1 || p.Marks[0].Kind != pdf.Picture {
		t.Errorf("a scan gives %d glyphs and the marks %v", len(p.Glyphs), p.Marks)
	}
}

// write makes a file and returns its path.
func write(t *testing.T, data []byte) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "file.pdf")
	if err := os.WriteFile(path, data, 0o644); err != nil {
		t.Fatal(err)
	}
	return path
}

func TestBadFiles(t *testing.T) {
	good, err := os.ReadFile(documents + "visitor-incident-form.pdf")
	if err != nil {
		t.Fatal(err)
	}
	e := engine(t, Options{FileSize: 1 << 20})
	tests := []struct {
		name string
		data []byte
		want error
	}{
		{"empty", nil, pdf.ErrNotPDF},
		{"text", []byte("Dear Sir or Madam"), pdf.ErrNotPDF},
		{"header alone", []byte("%PDF-1.7\n"), pdf.ErrDamaged},
		{"cut in half", good[:len(good)/8], pdf.ErrDamaged},
		{"no pages", []byte("%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj 2 0 obj<</Type/Pages/Kids[]/Count 0>>endobj\ntrailer<</Root 1 0 R>>"), pdf.ErrDamaged},
		{"noise", append([]byte("%PDF-1.5\n"), bytes.Repeat([]byte{0xff, 0x00, 0x41}, 5000)...), pdf.ErrDamaged},
		{"too large", append([]byte("%PDF-1.4\n"), make([]byte, 1<<20)...), pdf.ErrTooLarge},
	}
	for _, test := range tests {
		t.Run(test.name, func(t *testing.T) {
			if _, err := e.Open(t.Context(), write(t, test.data), ""); !errors.Is(err, test.want) {
				t.Errorf("error is %v, want %v", err, test.want)
			}
		})
	}
	if _, err := e.Open(t.Context(), filepath.Join(t.TempDir(), "none.pdf"), ""); !errors.Is(err, os.ErrNotExist) {
		t.Errorf("a missing file gives %v", err)
	}
	if pages := readAll(t, open(t, e, documents+"visitor-incident-form.pdf")); len(pages[0].Glyphs) == 0 {
		t.Error("after bad files a good one is not read")
	}
}

func TestSlowReaderIsReplaced(t *testing.T) {
	e := engine(t, Options{Readers: 1})
	f := open(t, e, documents+"glasshouse-manual.pdf")
	e.PageTime = time.Nanosecond
	failed := 0
	err := f.ReadPages(t.Context(), 1, 2, func(p *pdf.Page, err error) error {
		var page *pdf.PageError
		if errors.As(err, &page) && errors.Is(err, pdf.ErrPageBroke) && page.Page == p.Number {
			failed++
		}
		return nil
	})
	if err == nil && failed == 0 {
		t.Fatal("no page ran out of a nanosecond")
	}
	e.PageTime = 20 * time.Second
	if pages := readAll(t, f); len(pages) != f.Info.Pages {
		t.Errorf("after the reader was killed %d pages were read", len(pages))
	}
}

func TestCancelledWhileWaiting(t *testing.T) {
	e := engine(t, Options{Readers: 1})
	f := open(t, e, documents+"visitor-incident-form.pdf")
	r, err := e.take(t.Context(), f, false)
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := f.Picture(ctx, 1, 72); !errors.Is(err, context.Canceled) {
		t.Errorf("waiting for a busy reader ends with %v", err)
	}
	e.release(r)
	if _, err := f.Picture(t.Context(), 1, 72); err != nil {
		t.Errorf("the reader is not given back: %v", err)
	}
}

func TestManyReadAtOnce(t *testing.T) {
	e := engine(t, Options{Readers: 2})
	names := []string{"visitor-incident-form.pdf", "storm-damage-report.pdf", "informations-visiteurs.pdf"}
	var wg sync.WaitGroup
	for i := range 9 {
		wg.Go(func() {
			f, err := e.Open(t.Context(), documents+names[i%3], "")
			if err != nil {
				t.Error(err)
				return
			}
			n := 0
			err = f.ReadPages(t.Context(), 1, f.Info.Pages, func(p *pdf.Page, err error) error { n += len(p.Glyphs); return err })
			if err != nil || n == 0 {
				t.Errorf("%s: %d glyphs, error %v", names[i%3], n, err)
			}
		})
	}
	wg.Wait()
	if e.made > 2 {
		t.Errorf("%d readers were made, 2 allowed", e.made)
	}
}

func TestRotatedFrame(t *testing.T) {
	f := frame{left: 10, bottom: 20, right: 110, top: 220}
	for turn, want := range [][2]float32{{5, 15}, {185, 5}, {95, 185}, {15, 95}} {
		f.turn = turn
		if x, y := f.point(15, 205); x != want[0] || y != want[1] {
			t.Errorf("turned %d times the point is at %g,%g, want %v", turn, x, y, want)
		}
		if r := f.rect(10, 20, 110, 220); r.X0 != 0 || r.Y0 != 0 || r.X1 != f.width() || r.Y1 != f.height() {
			t.Errorf("turned %d times the page is %v of %g by %g", turn, r, f.width(), f.height())
		}
	}
}

// TestMutatedFiles reads damaged copies of the demo's documents: bytes changed,
// cut out and repeated. Each must end in pages or an error, and a good file
// must be read after all of them.
func TestMutatedFiles(t *testing.T) {
	e := engine(t, Options{Readers: 2, PageTime: 5 * time.Second})
	random := rand.New(rand.NewPCG(3, 141))
	names, err := filepath.Glob(documents + "*.pdf")
	if err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	opened := 0
	for i := range 120 {
		data, err := os.ReadFile(names[i%len(names)])
		if err != nil {
			t.Fatal(err)
		}
		for range 1 + random.IntN(30) {
			at := random.IntN(len(data))
			switch random.IntN(3) {
			case 0:
				data[at] = byte(random.IntN(256))
			case 1:
				end := min(len(data), at+random.IntN(200))
				data = append(data[:at:at], data[end:]...)
			case 2:
				end := min(len(data), at+random.IntN(200))
				data = append(data[:end:end], data[at:]...)
			}
		}
		path := filepath.Join(dir, "mutated.pdf")
		if err := os.WriteFile(path, data, 0o644); err != nil {
			t.Fatal(err)
		}
		f, err := e.Open(t.Context(), path, "")
		if err != nil {
			continue
		}
		opened++
		last := min(f.Info.Pages, 4)
		if err := f.ReadPages(t.Context(), 1, last, func(p *pdf.Page, err error) error {
			var page *pdf.PageError
			if err != nil && !errors.As(err, &page) {
				t.Errorf("mutation %d: page %d gives %v, which does not name it", i, p.Number, err)
			}
			return nil
		}); err != nil && !errors.Is(err, pdf.ErrDamaged) {
			t.Errorf("mutation %d: %v", i, err)
		}
	}
	if opened == 0 || opened == 120 {
		t.Errorf("%d of 120 mutated files could be opened: the mutations test nothing", opened)
	}
	if pages := readAll(t, open(t, e, documents+"visitor-incident-form.pdf")); len(pages[0].Glyphs) == 0 {
		t.Error("after the mutated files a good one is not read")
	}
}
