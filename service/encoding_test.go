package service

import (
	"context"
	"os"
	"strings"
	"testing"
	"testing/synctest"
)

func TestFoundByWordsFirstAndThenByMeaning(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	events, cancel := s.Listen()
	defer cancel()
	add(t, s, "garden", "seed-vault-manual.pdf")
	searchable, most := false, 0
	for e := range events {
		d := e.Document
		if d == nil || d.State != "ready" {
			continue
		}
		if !searchable { // which no vector had to be waited for
			searchable = true
			if found, err := s.Find(t.Context(), "garden", "cold store alarm", 3, Scope{}); err != nil || len(found) == 0 {
				t.Errorf("by words, %d passages are found, error %v", len(found), err)
			}
		}
		if d.Encoded < most || d.Encoded > d.Passages {
			t.Errorf("meaning goes from %d to %d of %d passages", most, d.Encoded, d.Passages)
		}
		if most = d.Encoded; d.Settled() {
			break
		}
	}
	found, err := s.Find(t.Context(), "garden", "What should I put on so that I do not freeze in there?", 5, Scope{})
	if err != nil || len(found) == 0 || !strings.Contains(found[0].Text+found[1].Text+found[2].Text, "insulated suit") {
		t.Errorf("by meaning, %+v, error %v", found, err)
	}
}

// What was encoded before a stop is there after it, and the rest follows.
func TestEncodingGoesOnAfterAStop(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	create(t, s, "garden")
	add(t, s, "garden", "seed-vault-manual.pdf", "staff-handbook.pdf")
	events, cancel := s.Listen()
	for e := range events {
		if e.Document != nil && e.Document.Encoded > 0 && e.Document.Encoded < e.Document.Passages {
			break
		}
	}
	cancel()
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	s = open(t, dir)
	docs, err := s.Settle(t.Context(), "garden")
	if err != nil || len(docs) != 2 {
		t.Fatalf("%+v, error %v", docs, err)
	}
	for _, d := range docs {
		if d.State != "ready" || d.Encoded != d.Passages || d.Passages == 0 {
			t.Errorf("%s is %s, meaning %d of %d", d.Name, d.State, d.Encoded, d.Passages)
		}
	}
	c, err := s.named("garden")
	if err != nil {
		t.Fatal(err)
	}
	for _, d := range docs {
		sd, err := s.store.Document(t.Context(), d.ID)
		if err != nil {
			t.Fatal(err)
		}
		entry, err := s.fromPages(t.Context(), c, *sd)
		if n := counts(&entry); err != nil || n.Encoded != n.Passages {
			t.Errorf("%s: %d of %d vectors are kept, error %v", d.Name, n.Encoded, n.Passages, err)
		}
	}
}

// An index of which nothing is left is made of what is kept, with its vectors.
func TestVectorsOutliveTheIndex(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	add(t, s, "garden", "visitor-incident-form.pdf")
	if _, err := s.Settle(t.Context(), "garden"); err != nil {
		t.Fatal(err)
	}
	if err := s.RebuildIndex(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	docs, err := s.Documents(t.Context(), "garden")
	if err != nil || docs[0].Encoded != docs[0].Passages {
		t.Errorf("after rebuilding, meaning %d of %d, error %v", docs[0].Encoded, docs[0].Passages, err)
	}
}

func TestQuestionsGoFirst(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		var a asking
		a.wait(t.Context()) // nothing is asked
		a.begin()
		a.begin()
		waited := make(chan bool)
		go func() { a.wait(context.Background()); close(waited) }()
		synctest.Wait()
		a.end()
		select {
		case <-waited:
			t.Error("the work went on while a question was open")
		default:
		}
		a.end()
		<-waited
		a.begin()
		a.wait(t.Context()) // gives way for a while and no longer
		a.end()
	})
}

func TestAnswersNameDocumentsAsTheyAreCalledNow(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "garden")
	add(t, s, "garden", "seed-vault-manual.pdf")
	settle(t, s, "garden")
	const question = "How long may seed stay out of the cold store?"
	first, err := s.Ask(t.Context(), "garden", Ask{Question: question}, Listener{})
	if err != nil || len(first.Citations) == 0 {
		t.Fatalf("%+v, error %v", first, err)
	}
	// The name is given to another file, and the content comes back under another name.
	addAs(t, s, "garden", "seed-vault-manual.pdf", "visitor-incident-form.pdf")
	settle(t, s, "garden")
	addAs(t, s, "garden", "vault.pdf", "seed-vault-manual.pdf")
	settle(t, s, "garden")
	again, err := s.Ask(t.Context(), "garden", Ask{Question: question}, Listener{})
	if err != nil || len(again.Citations) == 0 {
		t.Fatalf("%+v, error %v", again, err)
	}
	if got := again.Citations[0]; got.Document != "vault.pdf" || got.DocumentID != first.Citations[0].DocumentID {
		t.Errorf("cited is %s (%s)", got.Document, got.DocumentID)
	}
}

// addAs hands in one of the demo's documents under another name.
func addAs(t *testing.T, s *Service, collection, name, document string) {
	t.Helper()
	data, err := os.ReadFile(documents + document)
	if err != nil {
		t.Fatal(err)
	}
	addBytes(t, s, collection, name, string(data))
}
