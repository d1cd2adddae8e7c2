package service

import (
	"os"
	"strings"
	"testing"

	"jardinet/store"
)

func TestOtherKindsOfFilesAreReadAndAnswered(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	addBytes(t, s, "garden", "gate.txt", "Gate rules\n\nThe east gate closes 20 minutes before dusk.\n")
	addBytes(t, s, "garden", "hours.csv", "House;Hours\nPalm house;09:00 to 17:30\nFern house;10:00 to 16:00\n")
	damaged := addBytes(t, s, "garden", "deep.html", "<!doctype html>"+strings.Repeat("<b>", 3000)+"lost")
	docs := settle(t, s, "garden")
	for _, name := range []string{"gate.txt", "hours.csv"} {
		if d := docs[name]; d.State != string(store.Ready) || d.Pages != 1 || d.Warning != "" {
			t.Errorf("%s: %+v", name, d)
		}
	}
	if d := docs["deep.html"]; d.State != string(store.Failed) || !strings.HasSuffix(d.Reason, ".") {
		t.Errorf("a page without text: %+v", d)
	}
	a := ask(t, s, "garden", "When does the east gate close?")
	if len(a.Citations) == 0 || a.Citations[0].Document != "gate.txt" || a.Citations[0].Page != 1 || !strings.Contains(a.Text, "20 minutes before dusk") {
		t.Errorf("the answer is %q, citing %+v", a.Text, a.Citations)
	}

	original, err := s.Original(t.Context(), "garden", "gate.txt", false)
	if err != nil || original.PDF || original.Name != "gate.txt" {
		t.Errorf("the original is %+v, error %v", original, err)
	}
	pages, err := s.Original(t.Context(), "garden", "gate.txt", true)
	if err != nil || !pages.PDF || pages.Name != "gate.txt.pdf" {
		t.Errorf("its pages are %+v, error %v", pages, err)
	}
	if err := os.Remove(pages.Path); err != nil {
		t.Fatal(err)
	}
	if png, err := s.Picture(t.Context(), "garden", "gate.txt", 1, 72); err != nil || len(png) == 0 {
		t.Errorf("lost pages are not made again: %v", err)
	}

	for _, name := range []string{"gate.txt", damaged.Document.ID} {
		if _, err := s.Remove(t.Context(), "garden", name, false); err != nil {
			t.Fatal(err)
		}
	}
	if err := s.Purge(t.Context(), "garden", "gate.txt"); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(pages.Path); !os.IsNotExist(err) {
		t.Errorf("the pages outlive their document: %v", err)
	}
}
