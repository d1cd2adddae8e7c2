package digest

import (
	"strings"
	"testing"

	"jardinet/layout"
)

func TestList(t *testing.T) {
	p := func(s string) layout.Block { return layout.Block{Kind: layout.Paragraph, Text: s} }
	table := layout.Block{Kind: layout.Table, Text: "Store Keeper C1 grower C2 foreman", Rows: []layout.Row{
		{Header: true, Cells: []layout.Cell{{Column: 0, Start: 0, End: 5}, {Column: 1, Start: 6, End: 12}}},
		{Cells: []layout.Cell{{Column: 0, Start: 13, End: 15}, {Column: 1, Start: 16, End: 22}}},
		{Cells: []layout.Cell{{Column: 0, Start: 23, End: 25}, {Column: 1, Start: 26, End: 33}}},
	}}
	doc := &layout.Document{Language: "en", Pages: []layout.Page{{Number: 1, Language: "en", Blocks: []layout.Block{
		heading(1, "1 Houses"), p("The Palm House and the Water Lily House are old. In Alpine House it is cold. The House of Lords is not ours; a greenhouse is."),
		p("It has four stations: Main Gate, Lakeside, the Pinetum and Seed Vault Halt."), p("Notify it on form Q1, and hand form V4 to the desk. Fill in the form."),
		heading(1, "2 Fault codes"), table,
	}}}}
	for kind, want := range map[string]string{
		"houses": "Palm House|Water Lily House|Alpine House", "stations": "Main Gate|Lakeside|Pinetum|Seed Vault Halt", "forms": "form Q1|form V4",
		"stores": "C1|C2", "fault codes": "C1|C2", "keepers": "grower|foreman", "dragons": "", "": "",
	} {
		items, _ := List(doc, kind)
		var got []string
		for _, i := range items {
			got = append(got, i.Text)
		}
		if strings.Join(got, "|") != want {
			t.Errorf("the %s are %q", kind, got)
		}
	}
}
