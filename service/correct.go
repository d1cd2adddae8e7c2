package service

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"

	"golang.org/x/sync/errgroup"

	"jardinet/index"
	"jardinet/layout"
	"jardinet/ocr"
	"jardinet/pdfium"
	"jardinet/store"
)

// correct applies what people corrected to a document as it was read.
func (s *Service) correct(ctx context.Context, doc *layout.Document) error {
	kept, err := s.store.Corrections(ctx)
	if err != nil || len(kept) == 0 {
		return err
	}
	for i := range doc.Pages {
		page := &doc.Pages[i]
		if c, err := decodeCorrections(kept[page.Key]); err != nil {
			return err
		} else if c != nil {
			page.Correct(c)
		}
	}
	return nil
}

func decodeCorrections(data []byte) (*layout.Corrections, error) {
	if data == nil {
		return nil, nil
	}
	c := new(layout.Corrections)
	if err := json.Unmarshal(data, c); err != nil {
		return nil, fmt.Errorf("service: kept corrections: %w", err)
	}
	return c, nil
}

// recognise reads the pages again that have no text, or none that can be read,
// or that a person asked it for, and tells whether it changed any sheet.
func (s *Service) recognise(ctx context.Context, file *pdfium.File, doc *layout.Document, sheets []*layout.Sheet) (bool, error) {
	asked, err := s.store.Corrections(ctx)
	if err != nil {
		return false, err
	}
	var wanted []int
	for i := range doc.Pages {
		page := &doc.Pages[i]
		c, err := decodeCorrections(asked[page.Key])
		if err != nil {
			return false, err
		}
		if page.NeedsRecognition() || c != nil && c.Recognise {
			wanted = append(wanted, i)
		}
	}
	if len(wanted) == 0 {
		return false, nil
	}
	reader, err := s.recogniser()
	if errors.Is(err, ocr.ErrMissing) {
		return false, nil // the pages say that they have no text
	}
	if err != nil {
		return false, err
	}
	group, ctx := errgroup.WithContext(ctx)
	group.SetLimit(workers())
	for _, i := range wanted {
		group.Go(func() error {
			sheet, err := s.recognisePage(ctx, reader, file, &doc.Pages[i])
			if err != nil && ctx.Err() == nil {
				s.Log.Warn("text recognition failed", "page", i+1, "error", err)
				return nil
			}
			if sheet != nil {
				sheets[i] = sheet
			}
			return err
		})
	}
	return true, group.Wait()
}

// recognisePage reads a page from its picture; nil if that gives no text.
func (s *Service) recognisePage(ctx context.Context, reader *ocr.Reader, file *pdfium.File, page *layout.Page) (*layout.Sheet, error) {
	picture, err := file.Picture(ctx, page.Number, ocr.DPI)
	if err != nil {
		return nil, err
	}
	read, confidence, err := reader.Page(ctx, page.Number, page.Width, page.Height, picture)
	if err != nil || len(read.Glyphs) == 0 {
		return nil, err
	}
	return layout.Read(read, nil).Recognised(page.Key, confidence), nil
}

// scores returns the scores of a document's pages.
func scores(doc *layout.Document) []int {
	out := make([]int, len(doc.Pages))
	for i := range doc.Pages {
		out[i] = doc.Pages[i].Score()
	}
	return out
}

// Corrections returns what people changed on a page.
func (s *Service) Corrections(ctx context.Context, collection, name string, number int) (*layout.Corrections, error) {
	_, page, err := s.readPage(ctx, collection, name, number)
	if err != nil {
		return nil, err
	}
	all, err := s.store.Corrections(ctx)
	if err != nil {
		return nil, err
	}
	c, err := decodeCorrections(all[page.Key])
	if c == nil {
		c = &layout.Corrections{Edits: []layout.Edit{}}
	}
	return c, err
}

// Correct keeps what a person changed on a page, in place of what was changed
// before, and applies it at once to every document that has the page's content.
func (s *Service) Correct(ctx context.Context, collection, name string, number int, c *layout.Corrections) (*Page, error) {
	for i, e := range c.Edits {
		if err := e.Validate(); err != nil {
			return nil, fmt.Errorf("edit %d: %w: %w", i+1, err, ErrInvalid)
		}
	}
	d, page, err := s.readPage(ctx, collection, name, number)
	if err != nil {
		return nil, err
	}
	for i, e := range c.Edits {
		if !slices.ContainsFunc(page.Blocks, func(b layout.Block) bool { return b.Text == e.Was }) {
			return nil, fmt.Errorf("edit %d: no block of page %d was read as %.60q; fetch the page again: %w", i+1, number, e.Was, ErrInvalid)
		}
	}
	before, err := s.Corrections(ctx, collection, name, number)
	if err != nil {
		return nil, err
	}
	var data []byte
	if len(c.Edits) > 0 || c.Recognise {
		if data, err = json.Marshal(c); err != nil {
			return nil, err
		}
	}
	if err := s.store.SetCorrections(ctx, page.Key, data); err != nil {
		return nil, err
	}
	if before.Recognise != c.Recognise {
		return nil, s.ReadAgain(ctx, collection, name)
	}
	if err := s.renew(ctx, d.SHA256); err != nil {
		return nil, err
	}
	if err := s.store.DropDigests(ctx, d.SHA256); err != nil {
		return nil, err
	}
	s.encoding.more()
	return s.Page(ctx, collection, name, number)
}

// renew indexes the ready documents with some content again, from the kept
// pages with their corrections.
func (s *Service) renew(ctx context.Context, sum string) error {
	s.mu.Lock()
	var all []*collection
	for _, c := range s.collections {
		all = append(all, c)
	}
	s.mu.Unlock()
	for _, c := range all {
		if err := s.renewIn(ctx, c, sum); err != nil {
			return err
		}
	}
	return nil
}

func (s *Service) renewIn(ctx context.Context, c *collection, sum string) error {
	c.writing.Lock()
	defer c.writing.Unlock()
	docs, err := s.store.Documents(ctx, c.ID)
	if err != nil {
		return err
	}
	for _, d := range docs {
		if d.SHA256 != sum || d.State != store.Ready {
			continue
		}
		doc, err := s.kept(ctx, d)
		if err != nil {
			return err
		}
		if s.hosts != nil { // its shard takes it in again
			if err := errors.Join(s.store.SetScores(ctx, d.ID, scores(doc)), s.store.Renew(ctx, "", sum)); err != nil {
				return err
			}
			s.hosts.replicas.Wake()
			continue
		}
		entry, err := s.split(ctx, c, d.ID, doc)
		if err != nil {
			return err
		}
		if err := c.index.Load().Apply([]index.Document{entry}, []string{d.ID}); err != nil {
			return err
		}
		if err := s.store.SetScores(ctx, d.ID, scores(doc)); err != nil {
			return err
		}
		if err := s.store.SetReady(ctx, map[string]store.Counts{d.ID: counts(&entry)}, nil); err != nil {
			return err
		}
		s.encoding.more()
		s.tell(ctx, d.ID)
	}
	return nil
}

// Reindex cuts all documents of a collection by another recipe, from the pages as
// they were read. Searches find the old passages until all are cut. Where the
// recipe has another embedding, a new index is made beside the one in use.
func (s *Service) Reindex(ctx context.Context, collection string, recipe Recipe) error {
	if err := s.prepare(ctx, &recipe); err != nil {
		return err
	}
	c, err := s.named(collection)
	if err != nil {
		return err
	}
	c.writing.Lock()
	defer c.writing.Unlock()
	old := c.recipe.Load()
	recipe.Version = old.Version + 1
	if s.hosts != nil {
		return s.reindexTogether(ctx, c, old, &recipe)
	}
	c.recipe.Store(&recipe)
	entries, passages, err := s.cutReady(ctx, c, nil)
	if err != nil {
		c.recipe.Store(old)
		return err
	}
	if spaceOf(&recipe) == spaceOf(old) {
		err = c.index.Load().Apply(entries, slices.Collect(maps.Keys(passages)))
	} else if err = s.encodeAll(ctx, c, entries, passages); err == nil {
		err = s.renewIndex(c, &recipe, entries)
	}
	if err != nil {
		c.recipe.Store(old)
		return err
	}
	if err := errors.Join(s.store.SetRecipe(ctx, c.ID, recipe), s.newRanker(ctx, c)); err != nil {
		return err
	}
	defer s.encoding.more()
	return s.store.SetReady(ctx, passages, nil)
}

// ReadAgain queues a document to be read anew; answers come from what was read
// before until it is done.
func (s *Service) ReadAgain(ctx context.Context, collection, name string) error {
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return err
	}
	if d.State != store.Ready && d.State != store.Failed {
		return fmt.Errorf("%s is %s; only a document that is ready or has failed can be read again: %w", d.Name, d.State, ErrInvalid)
	}
	if err := s.store.SetState(ctx, d.ID, store.Queued, ""); err != nil {
		return err
	}
	s.tell(ctx, d.ID)
	s.enqueue(*d)
	return nil
}
