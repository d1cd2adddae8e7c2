package digest

import (
	"testing"

	"jardinet/layout"
)

func TestCompare(t *testing.T) {
	doc := func(lines ...string) *layout.Document {
		d := &layout.Document{Language: "en", Pages: []layout.Page{{Number: 1, Language: "en", Blocks: []layout.Block{heading(1, "1 Quarantine")}}}}
		for _, s := range lines {
			d.Pages[0].Blocks = append(d.Pages[0].Blocks, layout.Block{Kind: layout.Paragraph, Text: s})
		}
		return d
	}
	got := Compare(
		doc("Woody plants stay for 90 days in the house.", "Boots are dipped for 60 seconds.", "Cut flowers may be brought in.", "Soil is not accepted."),
		doc("Soil is not accepted.", "Woody plants stay for 180 days in the house.", "Boots are dipped for 60 seconds.", "Exceptions need the Chair of Trustees."),
	)
	if len(got) != 3 {
		t.Fatalf("there are %d differences", len(got))
	}
	if d := got[0]; d.Before == nil || d.After == nil || len(d.Figures) != 1 || d.Figures[0] != (Swap{"90 days", "180 days"}) {
		t.Errorf("the change is %+v", d)
	}
	if d := got[1]; d.Before != nil || d.After.Text != "Exceptions need the Chair of Trustees." {
		t.Errorf("what was added is %+v", d)
	}
	if d := got[2]; d.After != nil || d.Before.Text != "Cut flowers may be brought in." {
		t.Errorf("what was dropped is %+v", d)
	}
	if got := Compare(doc("The same."), doc("The same.")); len(got) != 0 {
		t.Errorf("what is the same differs: %+v", got)
	}
}
