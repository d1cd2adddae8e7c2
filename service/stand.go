package service

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"os"
	"strings"
	"time"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/index"
	"jardinet/layout"
	"jardinet/measure"
	"jardinet/store"
	"jardinet/text"
)

// A Stand is a set-up of a collection that questions can be put to: the live one, or one whose
// index has been made beside it from the same pages.
type Stand struct {
	service *Service
	c       *collection
	name    string
	setup   api.Setup
	quick   bool // times do not matter
}

// LiveSetup is the name of the set-up that readers' questions are answered with.
const LiveSetup = "live"

// Live returns a collection as it stands.
func (s *Service) Live(ctx context.Context, collection string) (*Stand, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	setup, err := s.setup(ctx, c)
	if err != nil {
		return nil, err
	}
	return &Stand{service: s, c: c, name: LiveSetup, setup: *setup}, nil
}

// Setup returns what a collection's answers are made with.
func (s *Service) Setup(ctx context.Context, collection string) (*api.Setup, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	return s.setup(ctx, c)
}

func (s *Service) setup(ctx context.Context, c *collection) (*api.Setup, error) {
	style, err := s.style(ctx, c)
	if err != nil {
		return nil, err
	}
	return &api.Setup{Recipe: *c.recipe.Load(), Certain: style.Certain, Passages: style.Passages, Statements: style.Statements}, nil
}

// beside returns a collection with another recipe, which shares its documents and its name.
func (s *Service) beside(ctx context.Context, c *collection, recipe *Recipe) (*collection, error) {
	other := &collection{Collection: c.Collection, known: map[string]answer.Document{}}
	other.recipe.Store(recipe)
	other.sharing.Store(c.sharing.Load())
	return other, s.newRanker(ctx, other)
}

// Build makes an index by another set-up in a directory, which it takes over, and returns a
// stand on it. Questions come first; progress is told how many documents are done.
func (s *Service) Build(ctx context.Context, collection, name string, setup api.Setup, dir string, progress func(done, all int)) (*Stand, error) {
	if err := s.CheckSetup(ctx, &setup); err != nil {
		return nil, err
	}
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	other, err := s.beside(ctx, c, &setup.Recipe)
	if err != nil {
		return nil, err
	}
	entries, counts, err := s.cutReady(ctx, other, nil)
	if err != nil {
		return nil, err
	}
	for i := range entries {
		progress(i, len(entries))
		if err := s.encodeAll(ctx, other, entries[i:i+1], counts); err != nil {
			return nil, err
		}
	}
	progress(len(entries), len(entries))
	if err := os.RemoveAll(dir); err != nil {
		return nil, fmt.Errorf("service: %w", err)
	}
	x, err := index.Open(dir, spaceOf(&setup.Recipe))
	if err == nil {
		err = x.Apply(entries, nil)
	}
	if err != nil {
		return nil, errors.Join(err, os.RemoveAll(dir))
	}
	other.index.Store(x)
	return &Stand{service: s, c: other, name: name, setup: setup}, nil
}

// Reopen returns a stand on an index that Build made earlier.
func (s *Service) Reopen(ctx context.Context, collection, name string, setup api.Setup, dir string) (*Stand, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	if setup.Recipe.Embedding != nil {
		setup.Recipe.Embedding.Policy = s.Outside
	}
	other, err := s.beside(ctx, c, &setup.Recipe)
	if err != nil {
		return nil, err
	}
	x, err := index.Open(dir, spaceOf(&setup.Recipe))
	if err != nil {
		return nil, err
	}
	other.index.Store(x)
	return &Stand{service: s, c: other, name: name, setup: setup}, nil
}

// CheckSetup tells what is wrong with a set-up, and fills in what an outside embedding is like.
func (s *Service) CheckSetup(ctx context.Context, setup *api.Setup) error {
	style := answer.Style{Certain: setup.Certain, Passages: setup.Passages, Statements: setup.Statements}
	if err := style.Validate(); err != nil {
		return fmt.Errorf("%w: %w", err, ErrInvalid)
	}
	return s.prepare(ctx, &setup.Recipe)
}

// Promote makes a set-up the live one.
func (s *Service) Promote(ctx context.Context, collection string, setup api.Setup) error {
	if err := s.CheckSetup(ctx, &setup); err != nil {
		return err
	}
	live, err := s.Setup(ctx, collection)
	if err != nil {
		return err
	}
	style, err := s.Style(ctx, collection)
	if err != nil {
		return err
	}
	if !live.SameIndex(&setup) {
		if err := s.Reindex(ctx, collection, setup.Recipe); err != nil {
			return err
		}
	}
	style.Certain, style.Passages, style.Statements = setup.Certain, setup.Passages, setup.Statements
	return s.SetStyle(ctx, collection, style)
}

// With returns a stand on the same index with what else a set-up says: what passages are found
// by, how many are read, and how sure an answer has to be.
func (st *Stand) With(ctx context.Context, setup api.Setup) (*Stand, error) {
	recipe := setup.Recipe
	recipe.Passage, recipe.Embedding = st.setup.Recipe.Passage, st.setup.Recipe.Embedding
	other, err := st.service.beside(ctx, st.c, &recipe)
	if err != nil {
		return nil, err
	}
	other.index.Store(st.c.index.Load())
	setup.Recipe = recipe
	return &Stand{service: st.service, c: other, name: st.name, setup: setup}, nil
}

// Quick returns the stand for measuring without regard to time: what was read for a question before
// is not read again.
func (st *Stand) Quick() *Stand {
	other := *st
	other.quick = true
	return &other
}

// Passages returns how many there are in the index.
func (st *Stand) Passages() int { return st.service.searcher(st.c).Passages() }

// Answerer returns what answers, with what the collection was taught and without an outside model.
func (st *Stand) Answerer(ctx context.Context) (*answer.Answerer, error) {
	out := st.service.answerer(st.c)
	style, err := st.service.style(ctx, st.c)
	if err != nil {
		return nil, err
	}
	style.Model = nil
	style.Certain, style.Passages, style.Statements = st.setup.Certain, st.setup.Passages, st.setup.Statements
	known, err := st.service.learned(ctx, st.c)
	if err != nil {
		return nil, err
	}
	out.Style, out.Lessons = *style, known.lessons
	return out, nil
}

// Measure asks a collection, as it stands, the questions of a set.
func (s *Service) Measure(ctx context.Context, collection string, set *measure.Set) (*measure.Measurement, error) {
	st, err := s.Live(ctx, collection)
	if err != nil {
		return nil, err
	}
	return st.Measure(ctx, set, nil)
}

// Measure asks the questions of a set, in the collection's style but without an outside model. A
// question that the collection was taught is asked as if that one lesson had not been given.
func (st *Stand) Measure(ctx context.Context, set *measure.Set, progress func(done int)) (*measure.Measurement, error) {
	subject, err := st.subject(ctx)
	if err != nil {
		return nil, err
	}
	answerer, err := st.Answerer(ctx)
	if err != nil {
		return nil, err
	}
	answerer.Again = !st.quick
	run := measure.Run{Answerer: answerer, Set: set, Read: st.service.reader(st.c), Progress: progress}
	m, err := run.Measure(ctx)
	if err != nil {
		return nil, err
	}
	m.ID, m.Created, m.Version, m.Subject = store.NewID(), time.Now().UTC().Truncate(time.Millisecond), st.service.Version, *subject
	return m, nil
}

// subject describes what is measured; its hash depends on the contents of the ready documents,
// the set-up and the lessons alone.
func (st *Stand) subject(ctx context.Context) (*measure.Subject, error) {
	docs, err := st.service.store.Documents(ctx, st.c.ID)
	if err != nil {
		return nil, err
	}
	out := &measure.Subject{
		Collection: st.c.Name, Passages: st.Passages(), Recipe: st.setup.Recipe, Setup: st.name, Certain: st.setup.Certain, Reads: st.setup.Passages,
	}
	hash := sha256.New()
	for _, d := range docs {
		if d.State == store.Ready {
			out.Documents++
			out.Pages += d.Pages
			fmt.Fprintf(hash, "%s %s\n", d.Name, d.SHA256)
		}
	}
	fmt.Fprintf(hash, "%+v\n", st.setup.Essence())
	known, err := st.service.learned(ctx, st.c)
	if err != nil {
		return nil, err
	}
	for _, l := range known.told {
		if l.Problem == "" {
			out.Lessons++
			fmt.Fprintf(hash, "%s %v\n", l.ID, l.Evidence)
		}
	}
	out.State = hex.EncodeToString(hash.Sum(nil))[:16]
	return out, nil
}

// Contents is a hash of a collection's ready documents, which an index made beside the live
// one is of.
func (s *Service) Contents(ctx context.Context, collection string) (string, error) {
	c, err := s.named(collection)
	if err != nil {
		return "", err
	}
	docs, err := s.store.Documents(ctx, c.ID)
	if err != nil {
		return "", err
	}
	hash := sha256.New()
	for _, d := range docs {
		if d.State == store.Ready {
			fmt.Fprintf(hash, "%s %s %v\n", d.Name, d.SHA256, d.Scores)
		}
	}
	return hex.EncodeToString(hash.Sum(nil))[:16], nil
}

// Read returns what was read from a page of a collection's document, for whoever compares.
func (s *Service) Read(collection string) (measure.Reader, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	return s.reader(c), nil
}

func (s *Service) reader(c *collection) measure.Reader {
	return func(ctx context.Context, document string, page int) (string, error) {
		d, err := s.store.DocumentNamed(ctx, c.ID, document)
		if errors.Is(err, store.ErrNotFound) || err == nil && (page < 1 || page > d.Pages || d.State != store.Ready) {
			return "", measure.ErrNoPage
		}
		if err != nil {
			return "", err
		}
		doc, err := s.corrected(ctx, d, page, page)
		if err != nil {
			return "", err
		}
		var out strings.Builder
		for _, b := range doc.Pages[0].Blocks {
			out.WriteString(b.Text + "\n")
		}
		return out.String(), nil
	}
}

// Store returns the records, for what is built on the service.
func (s *Service) Store() *store.Store { return s.store }

// CollectionID returns the id that a collection's records are kept under.
func (s *Service) CollectionID(name string) (string, error) {
	c, err := s.named(name)
	if err != nil {
		return "", err
	}
	return c.ID, nil
}

// CollectionName returns the name of the collection with an id.
func (s *Service) CollectionName(id string) (string, error) {
	c, err := s.byID(id)
	if err != nil {
		return "", err
	}
	return c.Name, nil
}

// Kept returns what was read of a document, with its corrections.
func (s *Service) Kept(ctx context.Context, collection, name string) (*layout.Document, error) {
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	doc, err := s.kept(ctx, *d)
	if err == nil {
		doc.Language = text.Language(d.Language)
	}
	return doc, err
}
