package service

import (
	"bytes"
	"errors"
	"strings"
	"testing"
)

func TestKindsOfFiles(t *testing.T) {
	for head, want := range map[string]string{
		"":                       "empty",
		"Dear all,\nthe vault…":  "a text file",
		"<!DOCTYPE html><html>":  "a web page",
		"\x89PNG\r\n\x1a\n":      "a picture (PNG)",
		"PK\x03\x04word/doc.xml": "a Word document",
		"PK\x03\x04something":    "a ZIP archive",
		"PK\x03\x04mimetypeapplication/vnd.oasis.opendocument.text": "an OpenDocument text",
		"\x00\x01\x02": "of a kind that is not known here",
	} {
		if got := kindOf([]byte(head)); got != want {
			t.Errorf("%q is %q, not %q", head, got, want)
		}
	}
	if !isPDF([]byte("rubbish\n%PDF-1.7\n")) || isPDF([]byte("PDF")) {
		t.Error("PDF files are not told from others")
	}
}

func TestWhatIsNoPDFIsRefusedAtOnce(t *testing.T) {
	s := open(t, t.TempDir())
	if _, err := s.CreateCollection(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	_, err := s.Add(t.Context(), "garden", "rules.docx", strings.NewReader("PK\x03\x04word/document.xml"))
	if !errors.Is(err, ErrRefused) || !strings.Contains(err.Error(), "a Word document") {
		t.Errorf("a damaged Word document: %v", err)
	}
	_, err = s.Add(t.Context(), "garden", "rules.png", strings.NewReader("\x89PNG\r\n\x1a\n\x00"))
	if !errors.Is(err, ErrRefused) || !strings.Contains(err.Error(), "a picture (PNG)") {
		t.Errorf("a picture: %v", err)
	}
	_, err = s.Add(t.Context(), "garden", "rules.txt", strings.NewReader(strings.Repeat("No dogs. ", mostOther/8)))
	if !errors.Is(err, ErrRefused) || !strings.Contains(err.Error(), "32 MiB") {
		t.Errorf("a long text: %v", err)
	}
	if docs, err := s.Documents(t.Context(), "garden"); err != nil || len(docs) != 0 {
		t.Errorf("it was queued: %+v, error %v", docs, err)
	}
	if _, err := s.Add(t.Context(), "garden", "cut.pdf", bytes.NewReader([]byte("%PDF-1.7\nnothing more"))); err != nil {
		t.Errorf("what begins like a PDF is not taken: %v", err)
	}
}
