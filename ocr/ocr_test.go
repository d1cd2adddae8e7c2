package ocr

import (
	"errors"
	"strings"
	"testing"
)

const table = "level\tpage_num\tblock_num\tpar_num\tline_num\tword_num\tleft\ttop\twidth\theight\tconf\ttext\n" +
	"4\t1\t1\t1\t1\t0\t300\t300\t600\t50\t-1\t\n" +
	"5\t1\t1\t1\t1\t1\t300\t300\t150\t40\t96.5\tFlue\n" +
	"5\t1\t1\t1\t1\t2\t480\t300\t120\t50\t90\tgas\n" +
	"5\t1\t1\t1\t1\t3\t700\t300\t120\t50\t3\t~|\n"

func TestParse(t *testing.T) {
	words, err := parse(strings.NewReader(table))
	if err != nil || len(words) != 2 || words[0].text != "Flue" || words[1].text != "gas" {
		t.Fatalf("words are %+v, error %v", words, err)
	}
	if x := words[0].box.X0; x != 72 {
		t.Errorf("300 pixels at 300 dpi are %g points", x)
	}
	evenOut(words)
	if words[0].size != words[1].size {
		t.Errorf("sizes are %g and %g", words[0].size, words[1].size)
	}
	glyphs := words[0].glyphs()
	if len(glyphs) != 5 || glyphs[4].Rune != ' ' || glyphs[3].Box.X1 > words[0].box.X1+0.1 {
		t.Errorf("glyphs are %+v", glyphs)
	}
}

func TestWithout(t *testing.T) {
	if _, err := Open(t.Context(), []string{"none"}); !errors.Is(err, ErrMissing) {
		t.Errorf("none gives %v", err)
	}
	t.Setenv("PATH", t.TempDir())
	if _, err := Open(t.Context(), nil); !errors.Is(err, ErrMissing) {
		t.Errorf("without Tesseract: %v", err)
	}
}

func TestUnknownLanguage(t *testing.T) {
	r, err := Open(t.Context(), nil)
	if err != nil {
		t.Skip("tesseract-ocr is not installed")
	}
	if !strings.Contains(r.languages, "eng") {
		t.Errorf("languages are %s", r.languages)
	}
	if _, err := Open(t.Context(), []string{"xyz"}); err == nil || !strings.Contains(err.Error(), "tesseract-ocr-xyz") {
		t.Errorf("an unknown language gives %v", err)
	}
	if _, _, err := r.Page(t.Context(), 1, 100, 100, []byte("no picture")); err == nil {
		t.Error("no picture was read")
	}
}
