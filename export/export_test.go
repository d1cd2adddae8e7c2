package export

import (
	"encoding/json"
	"strings"
	"testing"

	"jardinet/layout"
	"jardinet/pdf"
)

var about = &About{Name: "vault <1>.pdf", Title: "The vault", Language: "en", SHA256: "abc"}

// document is a page with each kind of block, words that a link lies on, and a table of which a cell is
// empty and another one holds a bar.
func document() *layout.Document {
	words := func(text string) layout.Words {
		var out layout.Words
		at := 0
		for _, w := range strings.Fields(text) {
			start := at + strings.Index(text[at:], w)
			at = start + len(w)
			out = append(out, layout.Word{Start: start, End: at, Box: pdf.Rect{X0: float32(start), Y0: 10, X1: float32(at), Y1: 20}})
		}
		return out
	}
	const linked = "See the rules <here>."
	const table = "Crop Weeks rye|oat 6"
	return &layout.Document{Title: "The vault", Pages: []layout.Page{{
		Number: 4, Label: "2", Width: 595, Height: 842, Language: "en",
		Links: []pdf.Link{{Target: "https://garden.example/?a=1&b=2", Box: pdf.Rect{X0: 8, Y0: 8, X1: 13, Y1: 22}}},
		Blocks: []layout.Block{
			{Kind: layout.Furniture, Text: "page header"},
			{Kind: layout.Heading, Level: 2, Text: "1.2 The rule of four_hours", Box: pdf.Rect{X0: 1, Y0: 2, X1: 3, Y1: 4.25}},
			{Kind: layout.Paragraph, Text: linked, Words: words(linked)},
			{Kind: layout.ListItem, Text: "• Close the door"},
			{Kind: layout.Table, Text: table, Rows: []layout.Row{
				{Header: true, Cells: []layout.Cell{{Column: 0, Start: 0, End: 4}, {Column: 2, Start: 5, End: 10}}},
				{Cells: []layout.Cell{{Column: 0, Start: 11, End: 18}, {Column: 2, Start: 19, End: 20}}},
			}},
			{Kind: layout.Footnote, Text: "As of May"},
		},
	}}}
}

func TestFormats(t *testing.T) {
	for name, want := range map[string][]string{
		"text":     {"[page 4, printed 2]\n\n1.2 The rule", "• Close the door\n\n"},
		"markdown": {"<!-- page 4, printed 2 -->", "## 1.2 The rule of four\\_hours", "- Close the door", "See the rules &lt;here>.", "| Crop |  | Weeks |\n| --- | --- | --- |\n| rye\\|oat |  | 6 |", "*As of May*"},
		"html": {`<section id="page-4" data-page="4" aria-label="page 4, printed 2">`, `<h2 data-box="1.0 2.0 3.0 4.2">`, `See the <a href="https://garden.example/?a=1&amp;b=2">rules</a> &lt;here&gt;.`,
			"<th>Crop</th><th></th><th>Weeks</th></tr><tr><td>rye|oat</td><td></td><td>6</td>", "<aside", `content="vault &lt;1&gt;.pdf"`},
		"json": {`"label": "2"`, `"target": "https://garden.example/?a=1\u0026b=2"`},
	} {
		data, err := Formats[name].Write(about, document())
		if err != nil {
			t.Fatal(err)
		}
		for _, part := range want {
			if !strings.Contains(string(data), part) {
				t.Errorf("%s lacks %q:\n%s", name, part, data)
			}
		}
		if name != "json" && strings.Contains(string(data), "page header") {
			t.Errorf("%s has what stands at the edge of each page", name)
		}
	}
}

func TestJSON(t *testing.T) {
	data, err := writeJSON(about, document())
	if err != nil {
		t.Fatal(err)
	}
	var out struct {
		SHA256 string
		Pages  []struct {
			Blocks []struct {
				Kind string
				Box  [4]float32
				Rows [][]string
			}
		}
	}
	if err := json.Unmarshal(data, &out); err != nil {
		t.Fatal(err)
	}
	blocks := out.Pages[0].Blocks
	if out.SHA256 != "abc" || len(blocks) != 6 || blocks[1].Box != [4]float32{1, 2, 3, 4.25} || len(blocks[4].Rows) != 2 || strings.Join(blocks[4].Rows[1], ",") != "rye|oat,,6" {
		t.Errorf("the JSON is %s", data)
	}
}
