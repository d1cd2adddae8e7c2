package digest

import (
	"context"
	"errors"
	"strings"
	"testing"

	"jardinet/layout"
	"jardinet/pdf"
	"jardinet/text"
)

// bags gives each text a vector of which of some words it has, of length one.
func bags(_ context.Context, texts []string, _ text.Language) ([][]float32, error) {
	words := strings.Fields("seed vault cold fish pond deep visitor ticket gate person")
	out := make([][]float32, len(texts))
	for i, t := range texts {
		out[i] = make([]float32, len(words))
		n := float32(0)
		for j, w := range words {
			if strings.Contains(strings.ToLower(t), w) {
				out[i][j], n = 1, n+1
			}
		}
		for j := range out[i] {
			out[i][j] /= max(n, 1)
		}
	}
	return out, nil
}

func garden() *layout.Document {
	p := func(s string) layout.Block {
		b := layout.Block{Kind: layout.Paragraph, Text: s}
		for _, t := range text.Tokens(s) {
			b.Words = append(b.Words, layout.Word{Start: t.Start, End: t.End, Box: pdf.Rect{X1: 10, Y1: 10}})
		}
		return b
	}
	return &layout.Document{Title: "Garden", Language: "en", Pages: []layout.Page{
		{Number: 1, Language: "en", Blocks: []layout.Block{
			heading(1, "1 The vault"), p("Seed of wild plants is kept in the vault. It is kept there for good, in the dark. The seed in the vault must be kept cold by the keeper."),
			item(p("1. Open the door of the vault with the seed key.")),
		}},
		{Number: 2, Language: "en", Blocks: []layout.Block{
			heading(1, "2 The pond"), p("The pond holds fish and is two metres deep in the middle. Was it ever drained in former times?"),
			heading(1, "3 The gate"), p("Every visitor shows a ticket at the gate before ten in the morning. The Garden Trust (GT) was founded on 4 May 1887."),
		}},
	}}
}

func item(b layout.Block) layout.Block {
	b.Kind = layout.ListItem
	return b
}

func TestSummaries(t *testing.T) {
	d, err := Of(t.Context(), garden(), nil, bags)
	if err != nil {
		t.Fatal(err)
	}
	if len(d.Page) != 5 || d.Page[0].Text != "Seed of wild plants is kept in the vault." {
		t.Errorf("the page has %d sentences, first %q", len(d.Page), d.Page[0].Text)
	}
	for i, q := range d.Page {
		if strings.HasPrefix(q.Text, "It is") || strings.HasSuffix(q.Text, "?") || strings.HasPrefix(q.Text, "1.") {
			t.Errorf("%q cannot be read by itself", q.Text)
		}
		if i > 0 && q.number < d.Page[i-1].number {
			t.Error("the sentences are out of order")
		}
	}
	if len(d.Chapters) != 3 || d.Chapters[1].Title != "2 The pond" || d.Chapters[1].Summary[0].Page != 2 {
		t.Errorf("the chapters are %+v", d.Chapters)
	}
	if about := d.Outline[2].About; about == nil || !strings.HasPrefix(about.Text, "Every visitor") {
		t.Errorf("the third chapter is about %+v", about)
	}
}

func TestFacts(t *testing.T) {
	d, err := Of(t.Context(), garden(), nil, bags)
	if err != nil {
		t.Fatal(err)
	}
	if len(d.Dates) != 1 || d.Dates[0].When != "1887-05-04" || d.Dates[0].Quote.Page != 2 {
		t.Errorf("the dates are %+v", d.Dates)
	}
	if len(d.Terms) != 1 || d.Terms[0].Term != "GT" || d.Terms[0].Means != "Garden Trust" {
		t.Errorf("the terms are %+v", d.Terms)
	}
	if len(d.Figures) != 1 || d.Figures[0].Unit != "metres" || d.Figures[0].Of != "2 The pond" {
		t.Errorf("the figures are %+v", d.Figures)
	}
	if len(d.Duties) != 1 || d.Duties[0].Force != Must {
		t.Errorf("the duties are %+v", d.Duties)
	}
}

func TestRowFigures(t *testing.T) {
	for row, want := range map[string]string{
		"Palm House · Night minimum °C: 18 · Keeper: Ida · Area: 200 m²": "18 °C Palm House · Night minimum; 200 m² Palm House · Area; ",
		"Nitrate · Unit: mg/l · Spring: 18 · Limit: at least 5":          "18 mg/l Nitrate · Spring; at least 5 mg/l Nitrate · Limit; ",
		"up to £250 · Who may sign: any grower":                          "£250 £ Sum; ",
		"Ticket · Price £: free":                                         "",
	} {
		got := ""
		for _, f := range rowFigures(Quote{Text: row, Kind: layout.Table, Row: "Sum"}) {
			got += f.Words + " " + f.Unit + " " + f.Of + "; "
		}
		if strings.ReplaceAll(got, "200 m² m²", "200 m²") != want {
			t.Errorf("%q has %q, want %q", row, got, want)
		}
	}
}

func TestPeriods(t *testing.T) {
	for s, want := range map[string]string{
		"Claims are made within 60 days.": "P60D", "Give three months' notice.": "P3M", "Reply within two hours.": "PT2H", "It lasts a fortnight; wait two days.": "",
		"at least ten working days before it arrives": "P10D", "12 minutes after arrival": "",
	} {
		got := ""
		line := []Quote{{Text: s}}
		for _, d := range dates(line, quantities(line)) {
			got += d.When
		}
		if got != want {
			t.Errorf("%q has %q, want %q", s, got, want)
		}
	}
}

func TestAnEncoderThatFails(t *testing.T) {
	down := errors.New("down")
	if _, err := Of(t.Context(), garden(), nil, func(context.Context, []string, text.Language) ([][]float32, error) { return nil, down }); !errors.Is(err, down) {
		t.Errorf("the error is %v", err)
	}
	if d, err := Of(t.Context(), &layout.Document{}, nil, bags); err != nil || len(d.Summary) != 0 {
		t.Errorf("nothing has the digest %+v, error %v", d, err)
	}
}

func TestStandsAlone(t *testing.T) {
	for s, want := range map[string]bool{
		"Nobody works more than 48 hours in any one week of the year.":                        true,
		"After 20 turns the volunteers may train as guards on the railway.":                   true,
		"In this manual the times are those of the clock at the gate.":                        true,
		"Forms such as those of the vault are kept for ten years by the keeper.":              true,
		"After 20 turns they may train as guards on the railway.":                             false,
		"At the end of 2025 this was true of 61 per cent of the plants.":                      false,
		"The Trust bought 61 per cent of such plants in the year before the storm.":           false,
		"They are kept for ten years by the keeper of the vault, or by the deputy.":           false,
		"Nach 20 Fahrten dürfen sie auch als Schaffner auf der ganzen Strecke mitfahren.":     false,
		"Après la visite ils rendent la clé au gardien de la serre avant de quitter le site.": false,
	} {
		if got := standsAlone(&Quote{Text: s}); got != want {
			t.Errorf("%q: %v", s, got)
		}
	}
}
