package pdfium

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// form is a page with a line of its own, a field that is filled in, one that is ticked and a text
// that somebody set on it.
const form = `%PDF-1.7
1 0 obj <</Type/Catalog/Pages 2 0 R/AcroForm<</Fields[5 0 R 6 0 R]>>>> endobj
2 0 obj <</Type/Pages/Kids[3 0 R]/Count 1>> endobj
3 0 obj <</Type/Page/Parent 2 0 R/MediaBox[0 0 400 300]/Resources<</Font<</F <</Type/Font/Subtype/Type1/BaseFont/Helvetica>>>>>>/Contents 4 0 R/Annots[5 0 R 6 0 R 7 0 R]>> endobj
4 0 obj <</Length 43>> stream
BT /F 12 Tf 20 250 Td (Name of finder:) Tj ET
endstream endobj
5 0 obj <</Type/Annot/Subtype/Widget/FT/Tx/T(finder)/V(Edda Brook)/Rect[120 245 300 265]>> endobj
6 0 obj <</Type/Annot/Subtype/Widget/FT/Btn/T(seen)/V/Yes/Rect[20 200 32 212]>> endobj
7 0 obj <</Type/Annot/Subtype/FreeText/Contents(Found by the lily pond, under the third bench.)/Rect[20 100 160 160]>> endobj
trailer <</Root 1 0 R>>
`

func TestWhatIsWrittenIntoAForm(t *testing.T) {
	path := filepath.Join(t.TempDir(), "form.pdf")
	if err := os.WriteFile(path, []byte(form), 0o644); err != nil {
		t.Fatal(err)
	}
	page := readAll(t, open(t, engine(t, Options{}), path))[0]
	var read strings.Builder
	for _, g := range page.Glyphs {
		read.WriteRune(g.Rune)
		if g.Box.X0 < 0 || g.Box.X1 > page.Width || g.Box.Y0 < 0 || g.Box.Y1 > page.Height || int(g.Font) >= len(page.Fonts) {
			t.Fatalf("%c stands at %+v in font %d", g.Rune, g.Box, g.Font)
		}
	}
	for _, want := range []string{"finder:", "EddaBrook", "Foundbythelilypond,underthethirdbench."} {
		if !strings.Contains(strings.ReplaceAll(read.String(), " ", ""), want) {
			t.Errorf("read are %q, without %q", read.String(), want)
		}
	}
	if strings.Contains(read.String(), "Yes") {
		t.Error("a tick is read as a word")
	}
}
