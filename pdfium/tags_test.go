package pdfium

import (
	"slices"
	"testing"

	"jardinet/pdf"
)

// TestTagsLinksAttachments reads a file whose author says which line is a heading and what the picture shows; the
// word "shed" leads to an address, another link would start a program, and a table is attached.
// It has no table of references: PDFium looks for the objects by itself.
func TestTagsLinksAttachments(t *testing.T) {
	f := open(t, engine(t, Options{}), "testdata/tagged.pdf")
	page := readAll(t, f)[0]
	if len(page.Tags) != 2 || page.Tags[0].Heading != 2 || page.Tags[1].Text != "A plan of the shed" {
		t.Fatalf("the tags are %+v", page.Tags)
	}
	if b := page.Tags[0].Box; b.X0 < 45 || b.X0 > 55 || b.Y0 < 38 || b.Y1 > 55 {
		t.Errorf("the heading stands at %v", b)
	}
	if b := page.Tags[1].Box; b.X0 < 48 || b.X1 > 152 || b.Y0 < 108 || b.Y1 > 202 {
		t.Errorf("the picture stands at %v", b)
	}
	if want := []pdf.Link{{Box: pdf.Rect{X0: 50, Y0: 40, X1: 130, Y1: 55}, Target: "https://halvern.example/shed"}}; !slices.Equal(page.Links, want) {
		t.Errorf("the links are %+v", page.Links)
	}
	if !slices.Equal(f.Attachments, []string{"beds.csv"}) {
		t.Fatalf("the attachments are %q", f.Attachments)
	}
	data, err := f.Attachment(t.Context(), 0)
	if err != nil || string(data) != "bed,plant\n1,fern" {
		t.Errorf("the attachment is %q: %v", data, err)
	}
	if _, err := f.Attachment(t.Context(), 1); err == nil {
		t.Error("a second attachment was handed over")
	}
}
