package accuracy

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/draft"
	"jardinet/measure"
	"jardinet/service"
)

// mostDrafts is how many questions are proposed at a time.
const mostDrafts = 500

// Draft starts a job that proposes so many questions and puts them into a set as drafts. They are
// spread over the documents named, or all, and over their sections. Only those are kept from whose
// question the reader comes back to the evidence.
func (b *Bench) Draft(ctx context.Context, collection, name string, n int, documents []string) (*api.Job, error) {
	if err := checkName("question set", name); err != nil {
		return nil, err
	}
	if n < 1 || n > mostDrafts {
		return nil, invalid(fmt.Errorf("%d drafts: choose 1 to %d", n, mostDrafts))
	}
	docs, err := b.service.Documents(ctx, collection)
	if err != nil {
		return nil, err
	}
	for _, d := range documents {
		if !slices.ContainsFunc(docs, func(have api.Document) bool { return have.Name == d }) {
			return nil, fmt.Errorf("document %q in collection %q: %w", d, collection, service.ErrNotFound)
		}
	}
	docs = slices.DeleteFunc(docs, func(d api.Document) bool {
		return d.State != "ready" || len(documents) > 0 && !slices.Contains(documents, d.Name)
	})
	if len(docs) == 0 {
		return nil, invalid(fmt.Errorf("no document is ready to draft questions from"))
	}
	j, err := b.start(ctx, collection, "draft", fmt.Sprintf("drafting %d questions for %s", n, name), n, func(ctx context.Context, j *job) (string, error) {
		return name, b.draft(ctx, j, collection, name, n, docs)
	})
	if err != nil {
		return nil, err
	}
	return j.told(), nil
}

func (b *Bench) draft(ctx context.Context, j *job, collection, name string, n int, docs []api.Document) error {
	stand, err := b.service.Live(ctx, collection)
	if err != nil {
		return err
	}
	answerer, err := stand.Answerer(ctx)
	if err != nil {
		return err
	}
	answerer.Lessons = nil
	proposals := make([][]draft.Proposal, len(docs)) // of each document, the first to be tried first
	for i, d := range docs {
		doc, err := b.service.Kept(ctx, collection, d.ID)
		if err != nil {
			return err
		}
		proposals[i] = draft.Choose(draft.Sections(doc), mostDrafts)
	}
	var kept []measure.Question
	for round := 0; len(kept) < n; round++ {
		some := false
		for i, d := range docs {
			if round >= len(proposals[i]) || len(kept) == n {
				continue
			}
			some = true
			q, err := tried(ctx, answerer, d.Name, &proposals[i][round])
			if err != nil {
				return err
			}
			if q != nil {
				kept = append(kept, *q)
				j.progress(len(kept), n)
			}
		}
		if !some {
			break
		}
	}
	_, err = b.change(ctx, collection, name, kept, nil, false)
	return err
}

// tried asks a proposal, and returns it as a question if the answer comes from where it should.
func tried(ctx context.Context, a *answer.Answerer, document string, p *draft.Proposal) (*measure.Question, error) {
	q := &measure.Question{
		ID: idOf("draft", document+p.Question), Question: p.Question, Answer: p.Answer, Accept: []string{p.Answer}, Draft: true, Tags: []string{string(p.Kind)},
		Evidence: []measure.Evidence{{Document: document, Page: p.Page, Quote: p.Quote}},
	}
	given, err := a.Ask(ctx, q.Question, nil)
	if err != nil {
		return nil, err
	}
	if given.State == answer.NotFound || !q.Proven(given.Citations) {
		return nil, nil
	}
	return q, nil
}

// idOf makes a name for what is the same whenever it is made.
func idOf(kind, content string) string {
	sum := sha256.Sum256([]byte(content))
	return kind + "-" + hex.EncodeToString(sum[:4])
}
