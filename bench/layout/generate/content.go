package main

import (
	"fmt"
	"math/rand/v2"
	"strings"

	"jardinet/bench/layout/truth"
)

// A band is a strip of a page, from margin to margin, in one or more columns.
type band struct {
	columns [][]piece
	flow    bool // text of the first column flows over into the others
}

// A piece is a block and how it looks.
type piece struct {
	truth.Block
	level  int
	ruled  bool
	boxed  bool
	beside bool // in the margin
	number string
	spaced bool // letters set apart
}

// A sheet is a page before it is set.
type sheet struct {
	kind      string
	landscape bool
	bands     []band
	watermark string
	numbered  bool // lines are numbered
}

// A paper is a document before it is set.
type paper struct {
	file, producer string
	title, header  string
	alternate      bool // even pages carry the title, odd ones the section
	sheets         []sheet
	sections       []string // by page
}

// A writer makes text up.
type writer struct{ *rand.Rand }

func (w writer) pick(from ...string) string { return from[w.IntN(len(from))] }

var (
	places  = []string{"Palm House", "Fern House", "Alpine House", "seed bank", "drying room", "potting shed", "visitor railway", "Halt platform", "rain tank", "boiler room", "lower pinetum", "herbarium", "propagation bench", "Orchid House"}
	persons = []string{"duty officer", "head gardener", "seed curator", "engine driver", "record keeper", "safety adviser", "volunteer on watch", "glasshouse team"}
	things  = []string{"humidity log", "spare pump", "burner door", "shade blind", "frost alarm", "labelled tray", "water meter", "signal lamp", "dew sensor", "seed packet", "feed valve"}
	doings  = []string{"checked", "written down", "cleaned", "measured", "replaced", "sealed", "tested", "ventilated", "carried out", "recorded"}
	times   = []string{"before the gates open", "after the last train", "on the first Monday of the month", "every second evening", "in the week before the audit", "when the wind turns east", "at the end of each round"}
)

func (w writer) sentence() string {
	n := w.IntN(900) + 12
	switch w.IntN(9) {
	case 0:
		return fmt.Sprintf("The %s in the %s is %s by the %s %s.", w.pick(things...), w.pick(places...), w.pick(doings...), w.pick(persons...), w.pick(times...))
	case 1:
		return fmt.Sprintf("If the reading falls below %d lux, the %s closes the %s and tells the %s.", n, w.pick(persons...), w.pick(things...), w.pick(persons...))
	case 2:
		return fmt.Sprintf("Bed %d lies between the %s and the %s, where the soil stays moist until June.", n, w.pick(places...), w.pick(places...))
	case 3:
		return fmt.Sprintf("Officers of the first fifty-five years found %d different efflorescent ferns in the %s.", n, w.pick(places...))
	case 4:
		return fmt.Sprintf("A %s that was %s in year %d must not be taken to the %s again without a signed waiver.", w.pick(things...), w.pick(doings...), n+1100, w.pick(places...))
	case 5:
		return fmt.Sprintf("Nobody enters the %s alone %s, and the %s keeps the key of cupboard %d.", w.pick(places...), w.pick(times...), w.pick(persons...), n)
	case 6:
		return fmt.Sprintf("Of %d accessions, nearly a third were %s %s; the others wait in the %s.", n, w.pick(doings...), w.pick(times...), w.pick(places...))
	case 7:
		return fmt.Sprintf("It is the %s who decides whether the %s can be repaired on site or goes to the workshop as job %d.", w.pick(persons...), w.pick(things...), n)
	}
	return fmt.Sprintf("The %s keeps a %s ready in the %s, since a failure of the %s cost %d seedlings.", w.pick(persons...), w.pick(things...), w.pick(places...), w.pick(things...), n)
}

func (w writer) paragraph(sentences int) piece {
	var out []string
	for range sentences {
		out = append(out, w.sentence())
	}
	return piece{Block: truth.Block{Kind: truth.Paragraph, Text: strings.Join(out, " ")}}
}

func (w writer) paragraphs(n, sentences int) (out []piece) {
	for range n {
		out = append(out, w.paragraph(sentences))
	}
	return out
}

func (w writer) heading(level int) piece {
	text := fmt.Sprintf("%s the %s", w.pick("Keeping", "Opening", "Heating", "Watering", "Closing", "Records of", "Access to", "Duties in"), w.pick(places...))
	return piece{Block: truth.Block{Kind: truth.Heading, Text: text}, level: level}
}

// science returns a paragraph with powers, indices and units.
func (w writer) science() piece {
	n := w.IntN(8) + 2
	texts := []string{
		fmt.Sprintf("The tank holds %d m³ of rain, which at %d g of salt makes a conductivity of 4×10⁻³ S.", 10*n, n),
		fmt.Sprintf("A colony counts %d×10⁸ spores a cm², and each of them binds CO₂ and H₂O while the light exceeds 10⁴ lux.", n),
		fmt.Sprintf("With NH₄ and SO₂ below %d mg the area of 10² m² is called clean; above 10⁵ it is closed.", n),
		fmt.Sprintf("The root of x²+y² gives the reach of the sprinkler, %d m, and its field is πr² or %d m².", n, 3*n*n),
	}
	return piece{Block: truth.Block{Kind: truth.Paragraph, Text: texts[w.IntN(len(texts))] + " " + w.sentence()}}
}

func (w writer) steps(n int) (out []piece) {
	for i := range n {
		out = append(out, piece{Block: truth.Block{Kind: truth.Item, Text: fmt.Sprintf("%d. %s", i+1, w.sentence())}, number: fmt.Sprintf("%d.", i+1)})
	}
	return out
}

func (w writer) bullets(n int) (out []piece) {
	for range n {
		out = append(out, piece{Block: truth.Block{Kind: truth.Item, Text: "• " + w.sentence()}, number: "•"})
	}
	return out
}

// table makes a table of houses; long says that a column has cells of several
// lines.
func (w writer) table(rows int, ruled, long bool) piece {
	head := []string{"House", "Night minimum", "Day maximum", "Light"}
	if long {
		head[3] = "Remark"
	}
	p := piece{Block: truth.Block{Kind: truth.Table, Rows: [][]string{head}}, ruled: ruled}
	used := w.Perm(len(places))
	for i := range rows {
		last := fmt.Sprintf("%d lux", 100*(w.IntN(90)+10))
		if long {
			last = w.sentence()
		}
		low := w.IntN(18)
		p.Rows = append(p.Rows, []string{places[used[i]], fmt.Sprintf("%d °C", low), fmt.Sprintf("%d °C", low+w.IntN(12)+3), last})
	}
	return p
}

// spanned is a ruled table under a header of two rows.
func (w writer) spanned(rows int) piece {
	p := piece{Block: truth.Block{Kind: truth.Table, Rows: [][]string{{"Station", "Summer", "", "Winter", ""}, {"", "First train", "Last train", "First train", "Last train"}}}, ruled: true}
	used := w.Perm(len(places))
	for i := range rows {
		clock := func(hour int) string { return fmt.Sprintf("%02d:%02d", hour, w.IntN(60)) }
		p.Rows = append(p.Rows, []string{places[used[i]], clock(8), clock(18), clock(10), clock(15)})
	}
	return p
}

// figure is a drawing with labels and its caption.
func (w writer) figure(n int) []piece {
	labels := []string{w.pick("Boiler", "Tank", "Inlet"), w.pick("Pump 2", "Filter", "Mixer"), w.pick("Palm bed", "Mist line", "Outlet"), fmt.Sprintf("%d kPa", 100+w.IntN(80)), "Valve V" + fmt.Sprint(w.IntN(9))}
	caption := fmt.Sprintf("Figure %d. Flow of water to the %s.", n, w.pick(places...))
	return []piece{{Block: truth.Block{Kind: truth.Figure, Labels: labels}}, {Block: truth.Block{Kind: truth.Caption, Text: caption}}}
}

func (w writer) note(mark, kind string) piece {
	return piece{Block: truth.Block{Kind: truth.Note, Text: mark + " See the " + w.pick(things...) + " of the " + w.pick(places...) + ", " + kind + " " + fmt.Sprint(w.IntN(80)+10) + "."}}
}

func one(pieces ...piece) band { return band{columns: [][]piece{pieces}} }

// join puts pieces and lists of pieces one after another.
func join(parts ...any) (out []piece) {
	for _, p := range parts {
		switch p := p.(type) {
		case piece:
			out = append(out, p)
		case []piece:
			out = append(out, p...)
		}
	}
	return out
}

// sheetOf makes a page of one type; types are what the set puts to the test.
func (w writer) sheetOf(kind string, number int) sheet {
	s := sheet{kind: kind}
	text := func(n int) []piece { return w.paragraphs(n, 3) }
	switch kind {
	case "plain":
		marked := w.paragraph(3)
		marked.Text = strings.TrimSuffix(marked.Text, ".") + ".¹"
		s.bands = []band{one(join(w.heading(1), text(1), marked, w.heading(2), w.paragraph(2), w.steps(4), w.paragraph(3), w.note("¹", "sheet"))...)}
	case "two columns":
		s.bands = []band{one(w.heading(1)), {columns: [][]piece{join(text(2), w.heading(2), text(2), w.bullets(2)), join(w.paragraph(4), w.heading(2), text(2), w.steps(3))}}}
	case "flowing columns":
		s.bands = []band{one(w.heading(1)), {columns: [][]piece{join(text(3), w.heading(2), text(4)), {}}, flow: true}}
	case "three columns":
		s.bands = []band{one(w.heading(1)), {columns: [][]piece{join(w.heading(2), w.paragraphs(3, 2)), join(w.heading(2), w.paragraphs(3, 2)), join(w.heading(2), w.paragraphs(3, 2))}}}
	case "mixed":
		s.bands = []band{one(join(w.heading(1), w.paragraph(3))...), {columns: [][]piece{join(w.heading(2), text(1)), join(w.heading(2), text(1))}},
			one(w.table(4, true, false)), {columns: [][]piece{join(text(1), w.bullets(2)), join(w.paragraph(2), w.figure(number))}}}
	case "figure":
		s.bands = []band{one(join(w.heading(1), text(1), w.figure(number), text(2), w.heading(2), w.paragraph(2))...)}
	case "ruled table":
		s.bands = []band{one(join(w.heading(1), w.paragraph(2), w.table(7, true, w.IntN(2) == 0), w.paragraph(3))...)}
	case "unruled table":
		s.bands = []band{one(join(w.heading(1), w.paragraph(2), w.table(6, false, w.IntN(2) == 0), w.paragraph(3), w.table(5, false, false))...)}
	case "spanning cells":
		s.bands = []band{one(join(w.heading(1), w.paragraph(2), w.spanned(6), w.paragraph(3))...)}
	case "table in column":
		t := w.table(4, false, false)
		for i := range t.Rows {
			t.Rows[i] = t.Rows[i][:3]
		}
		s.bands = []band{one(w.heading(1)), {columns: [][]piece{join(text(2), t, w.paragraph(2)), join(text(2), w.heading(2), text(1))}}}
	case "formulas":
		s.bands = []band{one(join(w.heading(1), w.science(), w.science(), w.heading(2), w.science(), w.steps(3), w.science())...)}
	case "side notes":
		beside := w.note("Note.", "shelf")
		beside.beside = true
		s.bands = []band{one(join(w.heading(1), text(4), beside)...)}
	case "box":
		box := w.paragraph(2)
		box.boxed = true
		s.bands = []band{one(w.heading(1)), {columns: [][]piece{join(text(1), box, text(1)), join(text(3))}}}
	case "landscape":
		s.landscape = true
		s.bands = []band{one(join(w.heading(1), w.paragraph(2), w.table(6, true, true))...)}
	case "watermark":
		s.watermark = "DRAFT"
		s.bands = []band{one(join(w.heading(1), text(3), w.heading(2), w.bullets(3))...)}
	case "line numbers":
		s.numbered = true
		s.bands = []band{one(join(w.heading(1), text(2), w.paragraph(3))...)}
	case "spaced heading":
		h := w.heading(1)
		h.spaced = true
		s.bands = []band{one(join(h, text(2), w.heading(2), text(2))...)}
	default:
		panic("no type " + kind)
	}
	return s
}
