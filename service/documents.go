package service

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"unicode"

	"jardinet/answer"
	"jardinet/export"
	"jardinet/layout"
	"jardinet/passage"
	"jardinet/pdf"
	"jardinet/pdfium"
	"jardinet/store"
	"jardinet/text"
)

func (s *Service) describe(d *store.Document) Document {
	out := Document{
		ID: d.ID, Name: d.Name, SHA256: d.SHA256, Size: d.Size, State: string(d.State), Reason: d.Reason, Warning: d.Warning,
		Title: d.Title, Language: d.Language, Pages: d.Pages, Passages: d.Passages, Tags: d.Tags, Fields: d.Fields, Added: d.Added, Changed: d.Changed,
	}
	out.Score, out.Doubtful = sumUp(d.Scores)
	if d.State == store.Ready {
		out.Encoded = max(d.Encoded, s.encoding.of(d.ID))
	}
	switch d.State {
	case store.Ready, store.Indexing, store.Replaced:
		out.PagesDone = d.Pages
	case store.Reading:
		if j := s.intake.job(d.ID); j != nil {
			out.Pages, out.PagesDone = int(j.of.Load()), int(j.done.Load())
		}
	}
	return out
}

// doubtful is the score below which a page should be looked at.
const doubtful = 90

func sumUp(scores []int) (mean, low int) {
	if len(scores) == 0 {
		return 0, 0
	}
	sum := 0
	for _, score := range scores {
		sum += score
		if score < doubtful {
			low++
		}
	}
	return sum / len(scores), low
}

// Add keeps a file and queues it. It returns as soon as the file is on disk. What cannot
// be a document is refused with ErrRefused, before anything is kept.
func (s *Service) Add(ctx context.Context, collection, name string, r io.Reader) (*Added, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	name = cleanName(name)
	if name == "" {
		return nil, fmt.Errorf("a file has no name: %w", ErrRefused)
	}
	if len(name) > longestName {
		return nil, fmt.Errorf("%.60s…: the name is longer than %d bytes; give the file a shorter one: %w", name, longestName, ErrRefused)
	}
	if err := s.store.CheckRoom(); err != nil {
		return nil, err
	}
	buffered := bufio.NewReaderSize(r, headLength)
	head, err := buffered.Peek(headLength)
	if err != nil && !errors.Is(err, io.EOF) {
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	var file io.Reader = buffered
	if !isPDF(head) {
		if file, err = readable(name, bytes.Clone(head), buffered); err != nil {
			return nil, err
		}
	}
	if n, err := s.store.CountDocuments(ctx, c.ID); err != nil || n >= mostDocuments {
		return nil, errors.Join(err, fmt.Errorf("%s: the collection has %d documents, and may have no more; remove some or begin another: %w", name, n, ErrRefused))
	}
	sum, size, err := s.store.Keep(file, s.pdf.FileSize)
	if errors.Is(err, store.ErrTooLong) {
		return nil, fmt.Errorf("%s: larger than %d MiB; split it into parts: %w", name, s.pdf.FileSize>>20, ErrRefused)
	}
	if err != nil {
		return nil, err
	}
	d, added, err := s.record(ctx, c, name, sum, size)
	if err = errors.Join(err, s.store.Release(sum)); err != nil {
		return nil, err
	}
	if added {
		s.tell(ctx, d.ID) // before it is read, so that it is told as queued
		s.enqueue(*d)
	}
	return &Added{Document: s.describe(d), Duplicate: !added}, nil
}

// record makes a document of a file that was kept, on all hosts.
func (s *Service) record(ctx context.Context, c *collection, name, sum string, size int64) (d *store.Document, added bool, err error) {
	if err := s.handIn(ctx, sum); err != nil {
		return nil, false, err
	}
	return s.store.AddDocument(ctx, &c.Collection, name, sum, size)
}

// longestName is how long a file's name may be, in bytes.
const longestName = 240

// cleanName keeps the last part of a path, without control characters.
func cleanName(name string) string {
	name = filepath.Base(strings.ReplaceAll(name, `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if unicode.IsControl(r) || unicode.Is(unicode.Bidi_Control, r) {
			return -1
		}
		return r
	}, strings.ToValidUTF8(name, "�"))
	if name == "." || name == "/" {
		return ""
	}
	return name
}

// Documents returns a collection's documents by name, without replaced and removed ones.
func (s *Service) Documents(ctx context.Context, collection string) ([]Document, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	return s.those(ctx, c, (*store.Document).Current)
}

// Versions returns all versions of a document, the newest first.
func (s *Service) Versions(ctx context.Context, collection, name string) ([]Document, error) {
	c, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	out, err := s.those(ctx, c, func(v *store.Document) bool { return v.Name == d.Name && v.State != store.Removed })
	slices.Reverse(out)
	return out, err
}

// those describes the documents of a collection that are wanted, in the store's order.
func (s *Service) those(ctx context.Context, c *collection, wanted func(*store.Document) bool) ([]Document, error) {
	docs, err := s.store.Documents(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	out := []Document{}
	for i := range docs {
		if wanted(&docs[i]) {
			out = append(out, s.describe(&docs[i]))
		}
	}
	return out, nil
}

// document finds a document by id or file name.
func (s *Service) document(ctx context.Context, collection, name string) (*collection, *store.Document, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, nil, err
	}
	d, err := s.store.DocumentNamed(ctx, c.ID, name)
	if err != nil {
		return nil, nil, fmt.Errorf("document %q in collection %q: %w", name, collection, err)
	}
	return c, d, nil
}

// Document describes a document, found by id or file name.
func (s *Service) Document(ctx context.Context, collection, name string) (*Document, error) {
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	out := s.describe(d)
	return &out, nil
}

// readPage returns a page as it was read, before corrections.
func (s *Service) readPage(ctx context.Context, collection, name string, number int) (*store.Document, *layout.Page, error) {
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, nil, err
	}
	data, err := s.store.Page(ctx, d.SHA256, number)
	if errors.Is(err, ErrNotFound) {
		return nil, nil, fmt.Errorf("page %d of %s, which is %s with %d pages: %w", number, d.Name, d.State, d.Pages, err)
	}
	if err != nil {
		return nil, nil, err
	}
	page, err := decodePage(data)
	return d, page, err
}

// corrected returns some pages of a document with what people corrected.
func (s *Service) corrected(ctx context.Context, d *store.Document, first, last int) (*layout.Document, error) {
	raw, err := s.store.PagesBetween(ctx, d.SHA256, first, last)
	if err != nil {
		return nil, err
	}
	if len(raw) < last-first+1 {
		return nil, fmt.Errorf("pages %d to %d of %s: %w", first, last, d.Name, ErrNotFound)
	}
	doc := &layout.Document{Title: d.Title, Language: text.Language(d.Language)}
	for _, data := range raw {
		page, err := decodePage(data)
		if err != nil {
			return nil, err
		}
		doc.Pages = append(doc.Pages, *page)
	}
	return doc, s.correct(ctx, doc)
}

// whole returns a document with all of its pages.
func (s *Service) whole(ctx context.Context, collection, name string) (*store.Document, *layout.Document, error) {
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, nil, err
	}
	doc, err := s.corrected(ctx, d, 1, d.Pages)
	return d, doc, err
}

// Page returns one page of a document.
func (s *Service) Page(ctx context.Context, collection, name string, number int) (*Page, error) {
	d, _, err := s.readPage(ctx, collection, name, number)
	if err != nil {
		return nil, err
	}
	c, err := s.byID(d.Collection)
	if err != nil {
		return nil, err
	}
	// Passages go over page ends, so the pages beside it are cut too.
	first := max(1, number-2)
	doc, err := s.corrected(ctx, d, first, min(d.Pages, number+2))
	if err != nil {
		return nil, err
	}
	p := &doc.Pages[number-first]
	corrections, err := s.Corrections(ctx, collection, name, number)
	if err != nil {
		return nil, err
	}
	out := &Page{
		Document: d.Name, ID: d.ID, Title: d.Title, Number: number, Of: d.Pages, Label: p.Label, Width: p.Width,
		Height: p.Height, Language: string(p.Language), Problem: p.Problem, Score: p.Score(), Findings: findings(p), Blocks: []PageBlock{}, Lines: []PageLine{}, Links: []PageLink{},
		Recognised: p.Confidence, Recognise: corrections.Recognise,
	}
	for _, l := range p.Links {
		out.Links = append(out.Links, PageLink{Target: l.Target, Box: boxOn(number, l.Box)})
	}
	for i := range p.Blocks {
		b := &p.Blocks[i]
		for _, l := range b.Lines() {
			out.Lines = append(out.Lines, PageLine{Text: b.Text[l.Start:l.End], Box: boxOn(number, l.Box)})
		}
		out.Blocks = append(out.Blocks, PageBlock{
			Kind: string(b.Kind), Level: b.Level, Text: b.Text, Corrected: b.Corrected, Was: b.Was(),
			Box: boxOn(number, b.Box),
		})
	}
	out.Passages = parts(passage.Split(doc, c.recipe.Load().Passage), number)
	return out, nil
}

func boxOn(page int, r pdf.Rect) answer.Box {
	return answer.Box{Page: page, X0: r.X0, Y0: r.Y0, X1: r.X1, Y1: r.Y1}
}

// parts returns what stands of passages on a page.
func parts(passages []passage.Passage, number int) []PagePart {
	out := []PagePart{}
	for _, p := range passages {
		part := PagePart{Ordinal: p.Ordinal, Section: p.Section, Boxes: []answer.Box{}}
		for _, sentence := range p.Sentences {
			for _, m := range sentence.Marks {
				if m.Page == number {
					part.Boxes = append(part.Boxes, boxOn(number, m.Box))
				}
			}
		}
		if len(part.Boxes) > 0 {
			part.Ordinal = len(out)
			out = append(out, part)
		}
	}
	return out
}

// Limits of a page's picture.
const (
	MinDPI = 20
	MaxDPI = 300
)

// Picture draws a page as PNG.
func (s *Service) Picture(ctx context.Context, collection, name string, number int, dpi float64) (png []byte, err error) {
	if dpi < MinDPI || dpi > MaxDPI {
		return nil, fmt.Errorf("a resolution of %g dpi: choose %d to %d: %w", dpi, MinDPI, MaxDPI, ErrInvalid)
	}
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	file, err := s.shown(ctx, d)
	if errors.Is(err, os.ErrNotExist) {
		return nil, fmt.Errorf("the original of %s is gone, so its pages cannot be shown; add the file again: %w", d.Name, ErrNotFound)
	}
	if err != nil {
		return nil, fmt.Errorf("%s: %w: %w", d.Name, err, ErrInvalid)
	}
	if number < 1 || number > file.Info.Pages {
		return nil, fmt.Errorf("page %d of %s, which has %d: %w", number, d.Name, file.Info.Pages, ErrNotFound)
	}
	png, err = file.Picture(ctx, number, dpi)
	var page *pdf.PageError
	if errors.As(err, &page) {
		err = fmt.Errorf("page %d of %s cannot be drawn: %w: %w", number, d.Name, page.Err, ErrInvalid)
	}
	return png, err
}

// maxShown is how many files are remembered for their pictures.
const maxShown = 64

// shown returns a file to draw pages of. It is remembered, since a reader that
// has it open need not open it again for the next page.
func (s *Service) shown(ctx context.Context, d *store.Document) (*pdfium.File, error) {
	s.mu.Lock()
	file := s.files[d.SHA256]
	s.mu.Unlock()
	if file != nil {
		return file, nil
	}
	path, err := s.paged(ctx, d)
	if err != nil {
		return nil, err
	}
	file, err = s.pdf.Open(ctx, path, "")
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(s.files) >= maxShown {
		clear(s.files)
	}
	s.files[d.SHA256] = file
	return file, nil
}

// An Original is a file as it was handed in, or the pages that it is set on.
type Original struct {
	Path, Name string
	PDF        bool
}

// Original returns where a document's original is kept; with paged, for one that is no PDF, its
// pages.
func (s *Service) Original(ctx context.Context, collection, name string, paged bool) (Original, error) {
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return Original{}, err
	}
	path, err := s.original(ctx, d.SHA256)
	if err != nil {
		return Original{}, err
	}
	pdf, err := beginsAsPDF(path)
	if err != nil || pdf || !paged {
		return Original{path, d.Name, pdf}, err
	}
	path, err = s.paged(ctx, d)
	return Original{path, d.Name + ".pdf", true}, err
}

// Export returns what was read of a document, with corrections, in one of export.Formats.
func (s *Service) Export(ctx context.Context, collection, name, format string) ([]byte, error) {
	f, ok := export.Formats[format]
	if !ok {
		return nil, fmt.Errorf("there is no export as %q; choose one of %s: %w", format, strings.Join(slices.Sorted(maps.Keys(export.Formats)), ", "), ErrInvalid)
	}
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	if d.State != store.Ready && d.State != store.Replaced {
		return nil, fmt.Errorf("%s is %s; only a document that was read can be exported: %w", d.Name, d.State, ErrInvalid)
	}
	doc, err := s.kept(ctx, *d)
	if err != nil {
		return nil, err
	}
	return f.Write(&export.About{Name: d.Name, Title: d.Title, Language: d.Language, SHA256: d.SHA256}, doc)
}
