package service

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/digest"
	"jardinet/embed"
	"jardinet/encoder"
	"jardinet/layout"
	"jardinet/pdf"
	"jardinet/store"
	"jardinet/text"
)

// digestVersion counts the ways in which digests have been made: kept ones of an older way are
// made again.
const digestVersion = 2

// digestedAtOnce is how many documents get their digests before new documents are looked for.
const digestedAtOnce = 4

// digestSome gives some documents their digests and tells whether there were any. It comes after
// the encoding, so that what can be asked does not wait for it.
func (s *Service) digestSome(ctx context.Context) (worked bool, err error) {
	docs, err := s.store.Undigested(ctx, digestVersion, digestedAtOnce)
	if err != nil || len(docs) == 0 {
		return false, err
	}
	var failures []error
	for i := range docs {
		if _, err := s.makeDigest(ctx, &docs[i]); err != nil {
			failures = append(failures, fmt.Errorf("the digest of %s: %w", docs[i].Name, err))
		}
	}
	return len(failures) < len(docs), errors.Join(failures...)
}

// makeDigest makes the digest of a document and keeps it.
func (s *Service) makeDigest(ctx context.Context, d *store.Document) (*api.Digest, error) {
	doc, err := s.corrected(ctx, d, 1, d.Pages)
	if err != nil {
		return nil, err
	}
	bookmarks, err := s.bookmarks(ctx, d)
	if err != nil {
		return nil, err
	}
	made, err := digest.Of(s.encoding.asking.patiently(ctx), doc, bookmarks, encodeTexts)
	if err != nil {
		return nil, err
	}
	out := describeDigest(d, doc, made)
	data, err := json.Marshal(out)
	if err != nil {
		return nil, fmt.Errorf("service: %w", err)
	}
	return out, s.store.SetDigest(ctx, d.ID, digestVersion, data)
}

// bookmarks are those of a document's file. One that cannot be opened any more has none.
func (s *Service) bookmarks(ctx context.Context, d *store.Document) ([]pdf.Bookmark, error) {
	path, err := s.paged(ctx, d)
	if err != nil {
		return nil, err
	}
	file, err := s.pdf.Open(ctx, path, "")
	if err != nil {
		return nil, ctx.Err()
	}
	return file.Outline, nil
}

func encodeTexts(ctx context.Context, texts []string, language text.Language) ([][]float32, error) {
	all := make([]embed.Text, len(texts))
	for i, t := range texts {
		all[i] = embed.Text{Body: t, Language: language}
	}
	return embed.Texts(ctx, encoder.Passage, all...)
}

// Digest returns what a document holds at a glance, with what editors made of it. It is made at
// once if it is not there yet.
func (s *Service) Digest(ctx context.Context, collection, name string) (*api.Digest, error) {
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	return s.digestOf(ctx, d)
}

func (s *Service) digestOf(ctx context.Context, d *store.Document) (*api.Digest, error) {
	out, err := s.keptDigest(ctx, d)
	if err != nil {
		return nil, err
	}
	out.Document = d.Name
	edits, err := s.store.DigestEdits(ctx, d.Collection, d.Name)
	if err != nil {
		return nil, err
	}
	return out, edited(out, edits)
}

func (s *Service) keptDigest(ctx context.Context, d *store.Document) (*api.Digest, error) {
	data, err := s.store.Digest(ctx, d.ID, digestVersion)
	switch {
	case err == nil:
		out := new(api.Digest)
		return out, json.Unmarshal(data, out)
	case !errors.Is(err, ErrNotFound):
		return nil, err
	case d.State != store.Ready && d.State != store.Replaced:
		return nil, fmt.Errorf("%s is %s; only a document that was read has a digest: %w", d.Name, d.State, ErrInvalid)
	}
	return s.makeDigest(ctx, d)
}

// EditDigest drops a line of a document's digest or words it anew; nil takes that back. It belongs
// to the document's name, and holds in new versions as long as they have the line.
func (s *Service) EditDigest(ctx context.Context, collection, name, line string, edit *api.DigestEdit) error {
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return err
	}
	if edit == nil {
		return s.store.SetDigestEdit(ctx, d.Collection, d.Name, line, nil)
	}
	edit.Text = strings.Join(strings.Fields(edit.Text), " ")
	if edit.Drop == (edit.Text != "") || len(edit.Text) > longestEdit {
		return fmt.Errorf("either drop a line or give it a text of up to %d bytes: %w", longestEdit, ErrInvalid)
	}
	made, err := s.keptDigest(ctx, d)
	if err != nil {
		return err
	}
	if !hasLine(made, line) {
		return fmt.Errorf("line %q of the digest of %s: %w", line, d.Name, ErrNotFound)
	}
	return s.store.SetDigestEdit(ctx, d.Collection, d.Name, line, edit)
}

// longestEdit is how long a line of a digest may be, in bytes.
const longestEdit = 2000

// lineID names a line by what it says, so that it is the same in another version.
func lineID(kind string, parts ...string) string {
	h := sha256.New()
	fmt.Fprintf(h, "%s\n", kind)
	for _, p := range parts {
		fmt.Fprintf(h, "%s\n", text.Normal(p))
	}
	return hex.EncodeToString(h.Sum(nil)[:8])
}

// describeDigest describes a digest for callers.
func describeDigest(d *store.Document, doc *layout.Document, made *digest.Digest) *api.Digest {
	q := quoter{doc}
	out := &api.Digest{
		Document: d.Name, ID: d.ID, Title: d.Title, Pages: d.Pages, Made: time.Now().UTC().Truncate(time.Second),
		Outline: []Heading{}, Summary: q.sentences(made.Summary), OnePage: q.sentences(made.Page), Chapters: []api.Chapter{},
		Terms: []api.Term{}, Dates: []api.Date{}, Figures: []api.Figure{}, Duties: []api.Duty{}, Offices: []api.Office{},
	}
	for _, e := range made.Outline {
		h := Heading{Title: e.Title, Level: e.Level, Page: e.Page, Label: q.label(e.Page)}
		if e.About != nil {
			about := q.sentence(*e.About)
			h.About = &about
		}
		out.Outline = append(out.Outline, h)
	}
	for _, c := range made.Chapters {
		out.Chapters = append(out.Chapters, api.Chapter{Title: c.Title, Page: c.Page, Label: q.label(c.Page), Summary: q.sentences(c.Summary)})
	}
	for _, t := range made.Terms {
		out.Terms = append(out.Terms, api.Term{ID: lineID("term", t.Term), Term: t.Term, Means: t.Means, Short: t.Short, Quote: q.one(t.Quote)})
	}
	for _, t := range made.Dates {
		out.Dates = append(out.Dates, api.Date{ID: lineID("date", t.When, t.Quote.Text), When: t.When, Words: t.Words, Deadline: t.Deadline, Quote: q.one(t.Quote)})
	}
	for _, f := range made.Figures {
		out.Figures = append(out.Figures, api.Figure{
			ID: lineID("figure", f.Words, f.Of, f.Quote.Text), Value: f.Value, To: f.To, Unit: f.Unit, Measure: f.Measure, Bound: string(f.Bound), Words: f.Words, Of: f.Of, Quote: q.one(f.Quote),
		})
	}
	for _, t := range made.Duties {
		out.Duties = append(out.Duties, api.Duty{ID: lineID("duty", t.Quote.Text), Force: string(t.Force), Who: t.Who, Number: t.Number, Quote: q.one(t.Quote)})
	}
	for _, o := range made.Offices {
		office := api.Office{Name: o.Name, Duties: []string{}, Tasks: q.sentences(o.Tasks)}
		for _, i := range o.Duties {
			office.Duties = append(office.Duties, out.Duties[i].ID)
		}
		out.Offices = append(out.Offices, office)
	}
	return out
}

// A quoter describes quotes of one document.
type quoter struct{ doc *layout.Document }

func (q quoter) label(page int) string {
	if page < 1 || page > len(q.doc.Pages) {
		return ""
	}
	return q.doc.Pages[page-1].Label
}

func (q quoter) one(from digest.Quote) api.Quote {
	out := api.Quote{Text: from.Text, Page: from.Page, Label: q.label(from.Page), Section: append([]string{}, from.Section...), Boxes: []answer.Box{}}
	for _, m := range from.Marks {
		out.Boxes = append(out.Boxes, boxOn(m.Page, m.Box))
	}
	return out
}

// sentence is a quote that editors may change.
func (q quoter) sentence(from digest.Quote) api.Quote {
	out := q.one(from)
	out.ID = lineID("sentence", from.Text)
	return out
}

func (q quoter) sentences(from []digest.Quote) []api.Quote {
	out := []api.Quote{}
	for _, one := range from {
		out = append(out, q.sentence(one))
	}
	return out
}
