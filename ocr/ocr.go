// Package ocr reads the text of page pictures with Tesseract, where it is
// installed. It hands out glyphs, as package pdf does, so that layout reads a
// scanned page as any other.
//
// Tesseract runs as a process of its own with limits on time and memory. It
// straightens lines that run askew by itself.
package ocr

import (
	"bytes"
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"os/exec"
	"slices"
	"strconv"
	"strings"
	"time"

	"jardinet/pdf"
)

// DPI is the resolution at which page pictures are read best.
const DPI = 300

// Limits of one page.
const (
	maxTime   = 90 * time.Second
	maxMemory = 2 << 20 // KiB of address space
)

// ErrMissing says that Tesseract is not installed.
var ErrMissing = errors.New("no text recognition is installed (Debian: tesseract-ocr)")

// A Reader recognises text in some languages.
type Reader struct {
	program   string
	languages string
}

// Open looks for Tesseract and those of the languages, as ISO 639-2 codes such
// as "eng", that it has; nil means all that Jardinet can stem, "none" to do
// without.
func Open(ctx context.Context, languages []string) (*Reader, error) {
	if len(languages) == 1 && languages[0] == "none" {
		return nil, ErrMissing
	}
	program, err := exec.LookPath("tesseract")
	if err != nil {
		return nil, ErrMissing
	}
	out, err := exec.CommandContext(ctx, program, "--list-langs").Output()
	if err != nil {
		return nil, fmt.Errorf("ocr: %s --list-langs: %w", program, err)
	}
	has := strings.Fields(string(out))
	wanted := languages
	if len(wanted) == 0 {
		wanted = []string{"eng", "deu", "fra"}
	}
	var use []string
	for _, l := range wanted {
		if slices.Contains(has, l) {
			use = append(use, l)
		} else if len(languages) > 0 {
			return nil, fmt.Errorf("ocr: Tesseract has no language %q; install tesseract-ocr-%s", l, l)
		}
	}
	if len(use) == 0 {
		return nil, fmt.Errorf("ocr: Tesseract has none of the languages %s; install tesseract-ocr-eng", strings.Join(wanted, ", "))
	}
	return &Reader{program, strings.Join(use, "+")}, nil
}

// Page recognises the text of a page's picture, drawn at DPI. Confidence is the
// mean of its words', in percent; 0 where there are none.
func (r *Reader) Page(ctx context.Context, number int, width, height float32, picture []byte) (page *pdf.Page, confidence int, err error) {
	ctx, cancel := context.WithTimeout(ctx, maxTime)
	defer cancel()
	limited := fmt.Sprintf("ulimit -v %d; exec \"$0\" \"$@\"", maxMemory)
	cmd := exec.CommandContext(ctx, "sh", "-c", limited, r.program, "stdin", "stdout", "-l", r.languages, "--dpi", strconv.Itoa(DPI), "--psm", "3", "tsv")
	cmd.Env = append(cmd.Environ(), "OMP_THREAD_LIMIT=1")
	cmd.Stdin = bytes.NewReader(picture)
	var problem bytes.Buffer
	cmd.Stderr = &problem
	out, err := cmd.Output()
	if ctx.Err() != nil {
		return nil, 0, fmt.Errorf("ocr: page %d: %w", number, ctx.Err())
	}
	if err != nil {
		return nil, 0, fmt.Errorf("ocr: page %d: %w: %s", number, err, strings.TrimSpace(problem.String()))
	}
	words, err := parse(bytes.NewReader(out))
	if err != nil {
		return nil, 0, fmt.Errorf("ocr: page %d: %w", number, err)
	}
	evenOut(words)
	page = &pdf.Page{Number: number, Width: width, Height: height, Fonts: []pdf.Font{{Name: "recognised"}}}
	sum := 0.0
	for _, w := range words {
		page.Glyphs = append(page.Glyphs, w.glyphs()...)
		sum += w.confidence
	}
	if len(words) > 0 {
		confidence = int(sum / float64(len(words)))
	}
	return page, confidence, nil
}

// A word is one that was recognised, in points.
type word struct {
	text           string
	box            pdf.Rect
	baseline, size float32
	confidence     float64
}

// Columns of Tesseract's table.
const (
	levelAt, leftAt, confidenceAt, textAt = 0, 6, 10, 11
	lineLevel, wordLevel                  = "4", "5"
)

// parse reads Tesseract's table of lines and words.
func parse(in io.Reader) ([]word, error) {
	table := csv.NewReader(in)
	table.Comma, table.LazyQuotes, table.FieldsPerRecord = '\t', true, -1
	var out []word
	var line pdf.Rect
	for {
		row, err := table.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			return nil, fmt.Errorf("what Tesseract wrote cannot be read: %w", err)
		}
		if len(row) <= textAt {
			continue
		}
		switch row[levelAt] {
		case lineLevel:
			line = boxOf(row)
		case wordLevel:
			confidence, _ := strconv.ParseFloat(row[confidenceAt], 64)
			if s := strings.TrimSpace(row[textAt]); s != "" && confidence > 20 {
				out = append(out, newWord(s, boxOf(row), line, confidence))
			}
		}
	}
}

func boxOf(row []string) pdf.Rect {
	var v [4]float32
	for i := range v {
		n, _ := strconv.Atoi(row[leftAt+i])
		v[i] = float32(n) * 72 / DPI
	}
	return pdf.Rect{X0: v[0], Y0: v[1], X1: v[0] + v[2], Y1: v[1] + v[3]}
}

// newWord gives a word the line's height, since its own depends on its letters.
// A line that runs askew is higher than its type, so a word's own place counts.
func newWord(s string, box, line pdf.Rect, confidence float64) word {
	height := min(line.Height(), 1.6*box.Height())
	w := word{text: s, box: box, confidence: confidence, size: 0.95 * max(height, box.Height())}
	w.baseline = box.Y1
	if strings.ContainsAny(s, "gjpqy,;()") {
		w.baseline -= 0.22 * w.size
	}
	return w
}

// evenOut gives the words of nearly the usual size that size: what letters a
// word has makes its measured height vary, and the type of a page does not.
func evenOut(words []word) {
	if len(words) == 0 {
		return
	}
	var sizes []float32
	for _, w := range words {
		sizes = append(sizes, w.size)
	}
	slices.Sort(sizes)
	usual := sizes[len(sizes)/2]
	for i := range words {
		if s := words[i].size; s > 0.7*usual && s < 1.3*usual {
			words[i].size = usual
		}
	}
}

// glyphs spreads the word's letters over its box.
func (w word) glyphs() []pdf.Glyph {
	runes := []rune(w.text)
	step := w.box.Width() / float32(len(runes))
	var out []pdf.Glyph
	for i, r := range runes {
		x := w.box.X0 + float32(i)*step
		out = append(out, pdf.Glyph{
			Rune: r, Size: w.size, Baseline: w.baseline,
			Box: pdf.Rect{X0: x, Y0: w.baseline - 0.78*w.size, X1: x + step, Y1: w.baseline + 0.22*w.size},
		})
	}
	return append(out, pdf.Glyph{Rune: ' ', Size: w.size, Baseline: w.baseline, Box: pdf.Rect{X0: w.box.X1, Y0: w.box.Y0, X1: w.box.X1 + 0.25*w.size, Y1: w.box.Y1}})
}
