package layout_test

import (
	"bytes"
	"context"
	"math/rand/v2"
	"os"
	"path/filepath"
	"runtime"
	"testing"
	"time"

	"golang.org/x/sync/errgroup"

	"jardinet/layout"
	"jardinet/passage"
	"jardinet/pdf"
	"jardinet/pdfium"
)

func TestMain(m *testing.M) {
	pdfium.ServeReader()
	os.Exit(m.Run())
}

// mutate damages a file in one of the ways in which files are damaged.
func mutate(random *rand.Rand, data []byte) []byte {
	out := bytes.Clone(data)
	switch random.IntN(5) {
	case 0: // cut short
		return out[:random.IntN(len(out))]
	case 1: // flipped bytes
		for range 1 + random.IntN(40) {
			out[random.IntN(len(out))] ^= byte(1 << random.IntN(8))
		}
	case 2: // a hole
		at := random.IntN(len(out))
		clear(out[at:min(len(out), at+random.IntN(4000))])
	case 3: // a piece twice
		at := random.IntN(len(out))
		piece := out[at:min(len(out), at+random.IntN(4000))]
		return append(append(bytes.Clone(out[:at]), piece...), out[at:]...)
	case 4: // other numbers
		for range 1 + random.IntN(30) {
			if i := random.IntN(len(out)); out[i] >= '0' && out[i] <= '9' {
				out[i] = '0' + byte(random.IntN(10))
			}
		}
	}
	return out
}

// TestMutatedFiles reads 2,000 damaged files: none may hang, crash anything but
// its reader, or leave a reader or a goroutine behind.
func TestMutatedFiles(t *testing.T) {
	count := 2000
	if testing.Short() {
		count = 200
	}
	var originals [][]byte
	for _, name := range []string{"visitor-incident-form", "storm-damage-report", "water-quality-report", "chemicals-storage-policy"} {
		data, err := os.ReadFile("../demo/documents/" + name + ".pdf")
		if err != nil {
			t.Fatal(err)
		}
		originals = append(originals, data)
	}
	before := runtime.NumGoroutine()
	engine := pdfium.NewEngine(pdfium.Options{})
	dir := t.TempDir()
	var group errgroup.Group
	group.SetLimit(runtime.GOMAXPROCS(0))
	for i := range count {
		group.Go(func() error {
			random := rand.New(rand.NewPCG(uint64(i), 2))
			path := filepath.Join(dir, string(rune('a'+i%8))+time.Duration(i).String()+".pdf")
			if err := os.WriteFile(path, mutate(random, originals[i%len(originals)]), 0o644); err != nil {
				return err
			}
			defer os.Remove(path)
			return readAll(t.Context(), engine, path)
		})
	}
	if err := group.Wait(); err != nil {
		t.Fatal(err)
	}
	if err := engine.Close(); err != nil {
		t.Errorf("the engine closes with %v", err)
	}
	if after := runtime.NumGoroutine(); after > before+10 {
		t.Errorf("%d goroutines are left of %d", after, before)
	}
}

// readAll reads a file as intake does. Files and pages may be refused; an error
// is what concerns the reading itself.
func readAll(ctx context.Context, engine *pdfium.Engine, path string) error {
	file, err := engine.Open(ctx, path, "")
	if err != nil {
		return nil
	}
	sheets := make([]*layout.Sheet, file.Info.Pages)
	err = file.ReadPages(ctx, 1, file.Info.Pages, func(page *pdf.Page, err error) error {
		sheets[page.Number-1] = layout.Read(page, err)
		return nil
	})
	if err != nil {
		return err
	}
	passage.Split(layout.Assemble(&file.Info, sheets), passage.DefaultRecipe)
	return nil
}

// drawn makes a page of glyphs and marks out of any bytes.
func drawn(data []byte) *pdf.Page {
	page := &pdf.Page{Number: 1, Width: 600, Height: 800, Fonts: []pdf.Font{{Name: "a"}, {Name: "b", Bold: true}}}
	for ; len(data) >= 6; data = data[6:] {
		x, y, size := float32(data[0])*2.4, float32(data[1])*3.2, float32(data[2]%30)
		box := pdf.Rect{X0: x, Y0: y, X1: x + size*0.6, Y1: y + size}
		if data[3]%5 == 0 {
			box.X1, box.Y1 = x+float32(data[4])*3, y+float32(data[5])*3
			page.Marks = append(page.Marks, pdf.Mark{Kind: pdf.MarkKind(data[3] / 5 % 4), Box: box})
			continue
		}
		page.Glyphs = append(page.Glyphs, pdf.Glyph{Rune: rune(data[4]) + ' ', Box: box, Baseline: y + 0.8*size, Size: size, Font: int32(data[5] % 3), Turn: pdf.Turn(data[5] % 5)})
	}
	return page
}

// FuzzLayout reads and cuts pages of glyphs strewn at random: it must end, and
// what it says of places in the text must hold.
func FuzzLayout(f *testing.F) {
	f.Add([]byte("glyphs and marks here and there, some of them \x05\x0a\x0f over each other"))
	random := rand.New(rand.NewPCG(1, 1))
	seed := make([]byte, 6*400)
	for i := range seed {
		seed[i] = byte(random.IntN(256))
	}
	f.Add(seed)
	f.Fuzz(func(t *testing.T, data []byte) {
		page := drawn(data[:min(len(data), 6*1500)])
		doc := layout.Assemble(&pdf.Info{Pages: 2}, []*layout.Sheet{layout.Read(page, nil), layout.Read(page, nil)})
		for _, p := range doc.Pages {
			for _, b := range p.Blocks {
				for _, w := range b.Words {
					if w.Start < 0 || w.End > len(b.Text) || w.Start > w.End {
						t.Fatalf("a word stands at %d to %d of %q", w.Start, w.End, b.Text)
					}
				}
			}
		}
		for _, p := range passage.Split(doc, passage.DefaultRecipe) {
			for _, s := range p.Sentences {
				if s.Start < 0 || s.End > len(p.Text) || s.Start > s.End {
					t.Fatalf("a sentence stands at %d to %d of %q", s.Start, s.End, p.Text)
				}
			}
		}
	})
}
