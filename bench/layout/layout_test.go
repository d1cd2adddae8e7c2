package main

import (
	"math"
	"os"
	"path/filepath"
	"testing"

	"jardinet/bench/layout/truth"
	"jardinet/pdfium"
)

func TestMain(m *testing.M) {
	pdfium.ServeReader()
	os.Exit(m.Run())
}

// TestPagesAreReadRight holds the reading to the targets on the labelled set.
func TestPagesAreReadRight(t *testing.T) {
	all, err := truth.Read(filepath.Join("set", "truth.json"))
	if err != nil {
		t.Fatal(err)
	}
	if len(all) < 120 {
		t.Errorf("the set has %d pages", len(all))
	}
	engine := pdfium.NewEngine(pdfium.Options{})
	defer engine.Close()
	byType, err := readers(engine)[0].measure(t.Context(), "set", all)
	if err != nil {
		t.Fatal(err)
	}
	total := &score{}
	for kind, s := range byType {
		total.add(s)
		if s.order() < 0.95 || s.text() < 0.97 {
			t.Errorf("%s: order %.3f, characters %.3f", kind, s.order(), s.text())
		}
	}
	for _, target := range []struct {
		name      string
		got, want float64
	}{
		{"order", total.order(), 0.99}, {"characters", total.text(), 0.995}, {"cell F1", total.cell1(), 0.95},
		{"furniture F1", total.furniture1(), 0.98}, {"shifted", share(total.shifted, total.shiftedAll), 0.98}, {"labels", share(total.labelsOut, total.labels), 0.98},
	} {
		if target.got < target.want {
			t.Errorf("%s is %.4f, want %.3f", target.name, target.got, target.want)
		}
	}
}

func TestJudge(t *testing.T) {
	page := &truth.Page{Furniture: []string{"Header", "3"}, Blocks: []truth.Block{
		{Kind: truth.Paragraph, Text: "one two three four five six seven m² eight"},
		{Kind: truth.Table, Rows: [][]string{{"a", "b"}, {"c", "d"}}},
		{Kind: truth.Figure, Labels: []string{"Pump"}},
	}}
	same := judge(page, &reading{body: page.Body(), furniture: "Header 3", tables: [][][]cell{{{{0, "a"}, {1, "b"}}, {{0, "c"}, {1, "d"}}}}}, false)
	if same.order() != 1 || same.text() != 1 || same.cell1() != 1 || same.furniture1() != 1 || same.shifted != 1 || same.labelsOut != 1 {
		t.Errorf("a perfect reading scores %+v", same)
	}
	worse := judge(page, &reading{body: "five six seven m2 eight Pump one two three four a b c d", tables: [][][]cell{{{{0, "a"}, {1, "d"}}, {{0, "c"}}}}}, false)
	if worse.order() > 0.7 || worse.text() > 0.7 || worse.furniture1() != 0 || worse.shifted != 0 || worse.labelsOut != 0 || worse.cell1() > 0.5 {
		t.Errorf("a bad reading scores %+v", worse)
	}
	if d := distance([]rune("kitten"), []rune("sitting")); d != 3 {
		t.Errorf("the distance is %d", d)
	}
	if got := (&score{}).order(); math.IsNaN(got) {
		t.Error("nothing has no order")
	}
}
