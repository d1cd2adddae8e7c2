package main

import (
	"bytes"
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"sync"
	"unicode"

	"golang.org/x/sync/errgroup"

	"jardinet/integrity"
	"jardinet/pdf"
	"jardinet/pdfium"
)

// lost is the share of the letters that may be missing before text is lost.
const lost = 0.02

// mutated changes files of the demo and holds what is read of them to what is read of the
// unchanged ones: where letters are missing, the file has to be refused or reported as damaged.
func mutated(ctx context.Context, n int) ([]row, error) {
	engine := pdfium.NewEngine(pdfium.Options{Cache: filepath.Join(os.TempDir(), "jardinet-trust-code")})
	defer engine.Close()
	files, err := filepath.Glob("demo/documents/*.pdf")
	if err != nil {
		return nil, err
	}
	dir, err := os.MkdirTemp("", "trust")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	whole, data := map[string]int{}, map[string][]byte{}
	for _, path := range files {
		if data[path], err = os.ReadFile(path); err != nil {
			return nil, err
		}
		if whole[path], err = letters(ctx, engine, path); err != nil {
			return nil, err
		}
	}
	var mu sync.Mutex
	var c struct{ refused, lostTold, lostSilent, wholeTold, whole int }
	group, ctx := errgroup.WithContext(ctx)
	group.SetLimit(2)
	for i := range 2000 * n {
		group.Go(func() error {
			r := rand.New(rand.NewPCG(uint64(i), 7))
			path := files[i%len(files)]
			changed := mutate(data[path], r)
			at := filepath.Join(dir, fmt.Sprint(i))
			if err := os.WriteFile(at, changed, 0o600); err != nil {
				return err
			}
			defer os.Remove(at)
			got, err := letters(ctx, engine, at)
			told := !integrity.Of(changed).Sound()
			mu.Lock()
			defer mu.Unlock()
			missing := float64(whole[path]-got) > lost*float64(whole[path])
			switch {
			case ctx.Err() != nil:
				return ctx.Err()
			case err != nil:
				c.refused++
			case missing && told:
				c.lostTold++
			case missing:
				c.lostSilent++
			case told:
				c.wholeTold++
			default:
				c.whole++
			}
			return nil
		})
	}
	if err := group.Wait(); err != nil {
		return nil, err
	}
	short := c.lostTold + c.lostSilent
	return []row{
		{"changed PDF files with text missing: reported", short, c.lostTold, fmt.Sprintf("recall %.2f; precision %.2f", share(c.lostTold, short), share(c.lostTold, c.lostTold+c.wholeTold))},
		{"the other changed files: refused, or read whole", 2000*n - short, c.refused + c.wholeTold + c.whole, fmt.Sprintf("%d refused, %d whole, %d of them reported as damaged", c.refused, c.whole+c.wholeTold, c.wholeTold)},
	}, nil
}

func share(a, b int) float64 {
	if b == 0 {
		return 1
	}
	return float64(a) / float64(b)
}

// letters counts the letters and digits that are read of a file; a page that cannot be read has
// none, and is an error if no page can.
func letters(ctx context.Context, engine *pdfium.Engine, path string) (int, error) {
	f, err := engine.Open(ctx, path, "")
	if err != nil {
		return 0, err
	}
	n, broken := 0, error(nil)
	err = f.ReadPages(ctx, 1, f.Info.Pages, func(p *pdf.Page, err error) error {
		for _, g := range p.Glyphs {
			if unicode.IsLetter(g.Rune) || unicode.IsDigit(g.Rune) {
				n++
			}
		}
		if err != nil {
			broken = err
		}
		return nil
	})
	if err == nil && n == 0 {
		err = broken
	}
	return n, err
}

// mutate changes a file in one of the ways in which files are damaged.
func mutate(data []byte, r *rand.Rand) []byte {
	out := bytes.Clone(data)
	at := r.IntN(len(out))
	span := min(len(out)-at, 1+r.IntN(600))
	switch r.IntN(6) {
	case 0, 1: // a bit
		out[at] ^= 1 << r.IntN(8)
	case 2: // the end is missing
		return out[:at]
	case 3: // a hole
		return append(out[:at], out[at+span:]...)
	case 4: // zeros
		clear(out[at : at+span])
	default: // two stretches change places
		other := r.IntN(len(out) - span + 1)
		piece := bytes.Clone(out[other : other+span])
		copy(out[other:], out[at:at+span])
		copy(out[at:], piece)
	}
	return out
}
