package table

import (
	"slices"
	"testing"
)

func TestAsked(t *testing.T) {
	for question, want := range map[string]Operation{
		"What is the total cost?": Sum, "How much is it altogether?": Sum, "What is the average height of the oaks?": Mean, "What does E3 mean?": "",
		"Which house is the warmest?": Largest, "Which house has the highest night minimum?": Largest, "Which has the fewest plants?": Smallest, "How many more visitors came in May than in June?": Difference,
		"By what percentage did it change?": Change, "How many oaks are there?": Count, "Who keeps the keys?": "", "Combien de plantes au total ?": Sum, "Wie viele Pflanzen sind es insgesamt?": Sum,
	} {
		if got := Asked(question); got != want {
			t.Errorf("%q asks for %q, want %q", question, got, want)
		}
	}
}

func TestNamed(t *testing.T) {
	rows := func(cells ...string) []Cell {
		var out []Cell
		for _, c := range cells {
			out = append(out, Cell{Text: c, Page: 1})
		}
		return out
	}
	trees := &Table{Title: "Trees", Columns: []Column{{Name: "Kind", Kind: Words}, {Name: "Place", Kind: Words}, {Name: "Height m", Kind: Number}}, Rows: [][]Cell{
		rows("oak", "Lake Bank", "12"), rows("oak", "Long Avenue", "9"), rows("red oak", "Lake Bank", "7"), rows("Total", "", "28"),
	}}
	for question, want := range map[string][]int{
		"How tall are the oaks?": {0, 1}, "How tall are the oaks on Lake Bank?": {0}, "How tall are the red oaks?": {2}, "How tall are they all?": nil, "How tall is the elm?": nil,
	} {
		if got := trees.Named(question, "en"); !slices.Equal(got, want) {
			t.Errorf("%q names the rows %v, want %v", question, got, want)
		}
	}
	if got := trees.Without("How tall are the red oaks on Lake Bank?", []int{2}); got != "How tall are  on ?" {
		t.Errorf("without the rows it is %q", got)
	}
	if name, of := trees.Shared(2, "What height in m has each kind?", nil, "en"); name != 1 || of != 1 {
		t.Errorf("of the column's name and the rows' the question has %v and %v", name, of)
	}
	if got := trees.Says(2); got != "Trees: Height m by kind" {
		t.Errorf("the column says %q", got)
	}
}
