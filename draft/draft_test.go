package draft

import (
	"reflect"
	"strings"
	"testing"

	"jardinet/layout"
	"jardinet/text"
)

func TestDefined(t *testing.T) {
	for _, test := range []struct {
		sentence   string
		language   text.Language
		term, says string
	}{
		{"A herbarium sheet is a dried plant mounted on stiff paper.", "en", "A herbarium sheet", "dried plant mounted on stiff paper"},
		{"The duty keeper is the person who carries the radio, day and night.", "en", "The duty keeper", "person who carries the radio"},
		{"It is a long way to the orchard from here.", "en", "", ""},
		{"On Sundays, the gate is the only way in or out.", "en", "", ""},
		{"What was found there is a great surprise to us.", "en", "", ""},
		{"Ein Herbarbogen ist ein steifes Blatt mit einer getrockneten Pflanze.", "de", "Ein Herbarbogen", "steifes Blatt mit einer getrockneten Pflanze"},
		{"La mousson est un vent saisonnier des tropiques.", "fr", "La mousson", "vent saisonnier des tropiques"},
	} {
		if term, says := Defined(test.sentence, test.language); term != test.term || says != test.says {
			t.Errorf("%q: %q is %q", test.sentence, term, says)
		}
	}
}

func TestQuantity(t *testing.T) {
	for _, test := range []struct{ sentence, question, answer string }{
		{"Seed may stay out of the cold store for four hours.", "For how long may seed stay out of the cold store?", "four hours"},
		{"The vault is kept at −18 °C by two compressors.", "At what temperature is the vault kept by two compressors?", "−18 °C"},
		{"Inspection is more frequent in the first two weeks.", "", ""},
		{"We counted all visitors, 6 per cent more than before.", "", ""},
		{"The lake holds about 62,000 m³.", "", ""},
		{"The restaurant had sales of £1.62 million.", "The restaurant had sales of how much money?", "£1.62 million"},
		{"Members get a reduction of 15 % in the shop.", "Members get a reduction of what percentage in the shop?", "15 %"},
		{"Seed is dried for 30 days at 15 °C.", "", ""},
		{"It may stay out for four hours.", "", ""},
		{"Four hours.", "", ""},
		{"the fragment lasts for 3 days.", "", ""},
	} {
		if q, a, _ := quantity(test.sentence, "en", func(w string) bool { return w == "seed" || w == "the" }); q != test.question || a != test.answer {
			t.Errorf("%q: asked %q, answered %q", test.sentence, q, a)
		}
	}
}

// table makes a table of rows of cells.
func table(rows ...string) layout.Block {
	b := layout.Block{Kind: layout.Table}
	for i, row := range rows {
		r := layout.Row{Header: i == 0}
		for column, c := range strings.Split(row, "|") {
			start := len(b.Text)
			b.Text += c + " "
			r.Cells = append(r.Cells, layout.Cell{Column: column, Start: start, End: len(b.Text) - 1})
		}
		b.Rows = append(b.Rows, r)
	}
	return b
}

func TestSections(t *testing.T) {
	doc := &layout.Document{Language: "en", Pages: []layout.Page{
		{Number: 1, Blocks: []layout.Block{
			{Kind: layout.Paragraph, Text: "The board is the owner of all land."},
			{Kind: layout.Heading, Text: "1 Houses"},
			{Kind: layout.Paragraph, Text: "The Palm House is the oldest glasshouse of the garden. The Palm House is the oldest glasshouse of the garden."},
			table("House|Night minimum|Keeper", "Palm House|18 °C|Ida", "Fern House|12 °C|Ben", "Fern House|11 °C|Ada"),
		}},
		{Number: 2, Blocks: []layout.Block{
			{Kind: layout.Heading, Text: "2 Closing the gate"},
			{Kind: layout.ListItem, Text: "1. Ring the bell."},
			{Kind: layout.ListItem, Text: "2. Walk the round."},
			{Kind: layout.ListItem, Text: "3. Lock the gate."},
			{Kind: layout.Furniture, Text: "The footer is the end of the page."},
		}},
	}}
	got := Sections(doc)
	if len(got) != 2 || got[0].Heading != "1 Houses" || got[1].Page != 2 {
		t.Fatalf("sections are %+v", got)
	}
	var all []string
	for _, s := range got {
		for _, p := range s.Proposals {
			all = append(all, string(p.Kind)+": "+p.Question+" "+p.Answer)
		}
	}
	want := []string{
		"definition: What is the Palm House? oldest glasshouse of the garden",
		"cell: What is the night minimum of Palm House? 18 °C",
		"steps: What are the steps of “Closing the gate”? Ring the bell",
	}
	if !reflect.DeepEqual(all, want) {
		t.Errorf("proposed\n%s", strings.Join(all, "\n"))
	}
	if chosen := Choose(got, 2); len(chosen) != 2 || chosen[0].Section == chosen[1].Section {
		t.Errorf("chosen are %+v, both from one section", chosen)
	}
	if chosen := Choose(got, 100); len(chosen) != 3 {
		t.Errorf("%d of three are chosen", len(chosen))
	}
}
