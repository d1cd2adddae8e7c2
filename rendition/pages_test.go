package rendition

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"jardinet/layout"
	"jardinet/pdf"
	"jardinet/pdfium"
)

func TestMain(m *testing.M) {
	pdfium.ServeReader()
	os.Exit(m.Run())
}

// read sets a text on pages and reads them as any PDF is read.
func read(t *testing.T, text *Text) *layout.Document {
	t.Helper()
	data, err := PDF(text)
	if err != nil {
		t.Fatal(err)
	}
	again, err := PDF(text)
	if err != nil || !bytes.Equal(data, again) {
		t.Errorf("the same text gives other pages the second time, error %v", err)
	}
	path := filepath.Join(t.TempDir(), "pages.pdf")
	if err := os.WriteFile(path, data, 0o600); err != nil {
		t.Fatal(err)
	}
	cache, err := os.UserCacheDir()
	if err != nil {
		t.Fatal(err)
	}
	engine := pdfium.NewEngine(pdfium.Options{Cache: filepath.Join(cache, "jardinet", "code"), Readers: 1})
	defer engine.Close()
	file, err := engine.Open(t.Context(), path, "")
	if err != nil {
		t.Fatal(err)
	}
	sheets := make([]*layout.Sheet, file.Info.Pages)
	if err := file.ReadPages(t.Context(), 1, len(sheets), func(p *pdf.Page, err error) error {
		sheets[p.Number-1] = layout.Read(p, err)
		return nil
	}); err != nil {
		t.Fatal(err)
	}
	return layout.Assemble(&file.Info, sheets)
}

func TestPagesAreReadAsWhatWasSet(t *testing.T) {
	text := &Text{Title: "Watering – the rules"}
	text.heading(1, "Watering")
	text.paragraph("Each house is watered at 07:30, with 10³ litres at most. 🌱")
	text.heading(2, "In numbers")
	rows := [][]string{{"House", "Litres", "Remarks"}}
	for i := range 80 {
		rows = append(rows, []string{fmt.Sprintf("House %d", i+1), fmt.Sprint(1000 + i), strings.Repeat("shade in summer ", 1+i%5)})
	}
	text.table(rows)
	doc := read(t, text)
	if doc.Title != text.Title {
		t.Errorf("the title is %q", doc.Title)
	}
	if len(doc.Pages) < 3 {
		t.Fatalf("80 rows stand on %d pages", len(doc.Pages))
	}
	var headings []string
	seen, heads := 0, 0
	for _, page := range doc.Pages {
		for _, b := range page.Blocks {
			switch b.Kind {
			case layout.Heading:
				headings = append(headings, b.Text)
			case layout.Table:
				heads++
				for i := range 80 {
					if strings.Contains(b.Text, fmt.Sprintf("House %d", i+1)) && strings.Contains(b.Text, fmt.Sprint(1000+i)) {
						seen++
					}
				}
			}
		}
	}
	if got := strings.Join(headings, " | "); got != "Watering | In numbers" {
		t.Errorf("the headings are %s", got)
	}
	if seen < 80 || heads != len(doc.Pages) {
		t.Errorf("%d rows of 80 are in tables, on %d pages of %d", seen, heads, len(doc.Pages))
	}
}

func TestOddTablesStandOnPages(t *testing.T) {
	wide := [][]string{make([]string, 40), make([]string, 40)}
	for i := range wide[0] {
		wide[0][i], wide[1][i] = fmt.Sprintf("Column %d", i), strings.Repeat("x", 50)
	}
	for name, rows := range map[string][][]string{
		"forty columns":       wide,
		"a cell for pages":    {{"Head", "More"}, {strings.Repeat("a long story ", 3000), "x"}},
		"a head for pages":    {{strings.Repeat("a long head ", 3000)}, {"x"}},
		"empty cells":         {{"", ""}, {"", ""}},
		"one cell":            {{"x"}},
		"one word for a line": {{strings.Repeat("w", 5000)}},
	} {
		if doc := read(t, &Text{Title: name, Blocks: []Block{{Kind: Table, Rows: rows}}}); len(doc.Pages) == 0 {
			t.Errorf("%s: no page", name)
		}
	}
	if doc := read(t, new(Text)); len(doc.Pages) != 1 {
		t.Errorf("nothing has %d pages", len(doc.Pages))
	}
}
