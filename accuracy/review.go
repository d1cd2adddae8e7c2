package accuracy

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"jardinet/api"
	"jardinet/draft"
	"jardinet/embed"
	"jardinet/encoder"
	"jardinet/measure"
	"jardinet/text"
)

// nearDuplicate is the cosine from which two questions ask the same.
const nearDuplicate = 0.93

// Review tells what a person should look at in a set: evidence that no longer stands where it
// stood, questions that ask nearly the same, and sections that no question touches.
func (b *Bench) Review(ctx context.Context, collection, name string) (*api.SetReview, error) {
	_, all, err := b.questions(ctx, collection, name, Part{Drafts: true})
	if err != nil {
		return nil, err
	}
	out := &api.SetReview{}
	if out.Stale, err = b.stale(ctx, collection, all); err != nil {
		return nil, err
	}
	if out.Duplicates, err = duplicates(ctx, all); err != nil {
		return nil, err
	}
	out.Coverage, err = b.coverage(ctx, collection, all)
	return out, err
}

func (b *Bench) stale(ctx context.Context, collection string, all []measure.Question) ([]api.StaleEvidence, error) {
	read, err := b.service.Read(collection)
	if err != nil {
		return nil, err
	}
	out := []api.StaleEvidence{}
	for i := range all {
		for _, e := range all[i].Places() {
			page, err := read(ctx, e.Document, e.Page)
			problem := ""
			switch {
			case errors.Is(err, measure.ErrNoPage):
				problem = fmt.Sprintf("%s has no page %d now", e.Document, e.Page)
			case err != nil:
				return nil, err
			case e.Quote != "" && !measure.Bears(page, e.Quote):
				problem = fmt.Sprintf("page %d of %s no longer says it", e.Page, e.Document)
			default:
				continue
			}
			out = append(out, api.StaleEvidence{Question: all[i].ID, Evidence: e, Problem: problem})
		}
	}
	return out, nil
}

func duplicates(ctx context.Context, all []measure.Question) ([]api.Duplicate, error) {
	texts := make([]embed.Text, len(all))
	for i, q := range all {
		words := q.Question
		if n := len(q.After); n > 0 {
			words = q.After[n-1] + " " + words
		}
		texts[i] = embed.Text{Body: words, Language: text.Detect(words, text.English)}
	}
	out := []api.Duplicate{}
	if len(all) == 0 {
		return out, nil
	}
	vectors, err := embed.Texts(ctx, encoder.Query, texts...)
	if err != nil {
		return nil, err
	}
	for i := range vectors {
		best, at := 0.0, -1
		for k := range i {
			if alike := encoder.Cosine(vectors[i], vectors[k]); alike > best && sameNumbers(all[i].Question, all[k].Question) {
				best, at = alike, k
			}
		}
		if at >= 0 && best >= nearDuplicate {
			out = append(out, api.Duplicate{Question: all[i].ID, Of: all[at].ID, Alike: float64(int(best*1000)) / 1000})
		}
	}
	return out, nil
}

// sameNumbers tells whether two questions name the same numbers: store C1 is not store C2.
func sameNumbers(a, b string) bool {
	digits := func(s string) []string {
		var out []string
		for _, t := range text.Tokens(s) {
			if t.Number || slices.ContainsFunc([]rune(t.Word), func(r rune) bool { return r >= '0' && r <= '9' }) {
				out = append(out, t.Word)
			}
		}
		return out
	}
	return slices.Equal(digits(a), digits(b))
}

// coverage counts the questions that touch each section: those whose evidence is on its pages.
func (b *Bench) coverage(ctx context.Context, collection string, all []measure.Question) ([]api.Covered, error) {
	docs, err := b.service.Documents(ctx, collection)
	if err != nil {
		return nil, err
	}
	out := []api.Covered{}
	for _, d := range docs {
		if d.State != "ready" {
			continue
		}
		doc, err := b.service.Kept(ctx, collection, d.ID)
		if err != nil {
			return nil, err
		}
		for _, s := range draft.Sections(doc) {
			c := api.Covered{Document: d.Name, Section: s.Heading, Page: s.Page, Pages: max(1, s.Pages)}
			for i := range all {
				if slices.ContainsFunc(all[i].Places(), func(e measure.Evidence) bool {
					return e.Document == d.Name && e.Page >= c.Page && e.Page < c.Page+c.Pages
				}) {
					if all[i].Draft {
						c.Drafts++
					} else {
						c.Questions++
					}
				}
			}
			out = append(out, c)
		}
	}
	return out, nil
}
