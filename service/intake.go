package service

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/klauspost/compress/s2"
	"golang.org/x/sync/errgroup"

	"jardinet/index"
	"jardinet/integrity"
	"jardinet/layout"
	"jardinet/pdf"
	"jardinet/pdfium"
	"jardinet/store"
)

// chunk is how many pages of a document one reader takes at a time.
const chunk = 24

// An intake works through the queued documents.
type intake struct {
	cancel  context.CancelFunc
	done    sync.WaitGroup
	ready   chan indexed // from the workers to the publisher
	pages   atomic.Int64 // read since the start
	mu      sync.Mutex
	wake    *sync.Cond
	queue   []store.Document
	stopped bool
	jobs    map[string]*job // by document id, queued or under way
	paused  map[string]bool // by collection id
	spell   spell
}

// A job is what is known of a document on its way in.
type job struct {
	ctx     context.Context
	cancel  context.CancelFunc // when the document is removed
	done    atomic.Int64       // pages
	of      atomic.Int64
	started time.Time
	told    atomic.Int64 // when progress was last sent, Unix milliseconds

	collection string // id
	size       int64  // of its file, in bytes
}

// indexed is a document on its way into the index.
type indexed struct {
	document store.Document
	index    index.Document
	job      *job
}

// startIntake puts store and index in agreement, queues what is unfinished and
// starts the workers.
func (s *Service) startIntake(ctx context.Context) error {
	run, cancel := context.WithCancel(context.Background())
	in := &intake{cancel: cancel, ready: make(chan indexed, workers()), jobs: map[string]*job{}, paused: map[string]bool{}}
	for id, c := range s.collections {
		in.paused[id] = c.Collection.Paused
	}
	in.wake = sync.NewCond(&in.mu)
	s.intake = in
	if s.hosts != nil { // documents are taken from the queue that the hosts have in common
		in.done.Go(func() { s.warm(run) })
		return nil
	}
	if err := s.reconcile(ctx); err != nil {
		cancel()
		return err
	}
	unfinished, err := s.store.Unfinished(ctx)
	if err != nil {
		cancel()
		return err
	}
	for _, d := range unfinished {
		s.enqueue(d)
	}
	var reading sync.WaitGroup
	for range workers() {
		reading.Go(func() {
			for {
				d, j, ok := in.next()
				if !ok {
					return
				}
				s.take(run, d, j)
			}
		})
	}
	in.done.Go(func() { reading.Wait(); close(in.ready) })
	in.done.Go(func() { s.publish() })
	in.done.Go(func() { s.warm(run) })
	return nil
}

// warm has the readers start before they are needed.
func (s *Service) warm(ctx context.Context) {
	if err := s.pdf.Warm(ctx); err != nil && ctx.Err() == nil {
		s.Log.Error("no PDF can be read", "error", err)
	}
}

// reconcile removes from each index what the store does not have as ready,
// and adds from the kept pages what it lacks.
func (s *Service) reconcile(ctx context.Context) error {
	for _, c := range s.collections {
		docs, err := s.store.Documents(ctx, c.ID)
		if err != nil {
			return err
		}
		var remove []string
		var add []index.Document
		wanted := map[string]bool{}
		for _, d := range docs {
			// One that is on its way may be in already: it is read again, or will be marked ready.
			wanted[d.ID] = d.State != store.Failed && d.Current()
			if d.State == store.Ready && !c.index.Load().Has(d.ID) {
				entry, err := s.fromPages(ctx, c, d)
				if errors.Is(err, errDamaged) || store.IsCorrupt(err) {
					err = s.setAside(ctx, d, err)
				} else if err == nil {
					add = append(add, entry)
				}
				if store.IsCorrupt(err) { // it cannot even be noted
					s.Log.Error("a document is left out, since its records are damaged; put a backup in place", "document", d.Name, "id", d.ID, "error", err)
				} else if err != nil {
					return err
				}
			}
		}
		for _, key := range c.index.Load().Keys() {
			if !wanted[key] {
				remove = append(remove, key)
			}
		}
		if err := c.index.Load().Apply(add, remove); err != nil {
			return err
		}
	}
	return nil
}

// errDamaged says that what is kept of a document is not what was kept.
var errDamaged = store.ErrDamaged

// setAside has a document read again of which the kept pages are damaged; the others are not
// kept waiting.
func (s *Service) setAside(ctx context.Context, d store.Document, damage error) error {
	s.Log.Warn("a document is read again, since what was kept of it is damaged", "document", d.Name, "id", d.ID, "damage", damage)
	return s.store.SetState(ctx, d.ID, store.Queued, "")
}

// fromPages makes a document's index entry from its kept pages.
func (s *Service) fromPages(ctx context.Context, c *collection, d store.Document) (index.Document, error) {
	doc, err := s.kept(ctx, d)
	if err != nil {
		return index.Document{}, err
	}
	return s.split(ctx, c, d.ID, doc)
}

// kept returns what was read of a document, from the store.
func (s *Service) kept(ctx context.Context, d store.Document) (*layout.Document, error) {
	raw, err := s.store.Pages(ctx, d.SHA256)
	if err != nil {
		return nil, err
	}
	if len(raw) != d.Pages {
		return nil, fmt.Errorf("%s: %w: %d pages are kept of %d", d.Name, errDamaged, len(raw), d.Pages)
	}
	doc := &layout.Document{Title: d.Title}
	for _, data := range raw {
		page, err := decodePage(data)
		if err != nil {
			return nil, err
		}
		doc.Pages = append(doc.Pages, *page)
	}
	return doc, s.correct(ctx, doc)
}

// stop ends the intake; what is under way is taken up at the next start.
func (in *intake) stop() {
	in.mu.Lock()
	in.stopped = true
	in.mu.Unlock()
	in.wake.Broadcast()
	in.cancel()
	in.done.Wait()
}

// enqueue has a document read, by this host or another one.
func (s *Service) enqueue(d store.Document) {
	if s.hosts != nil {
		if err := s.hosts.Ledger().Enqueue(context.Background(), intakeTask, d.ID); err != nil {
			s.Log.Warn("a document is put into the queue later", "document", d.Name, "error", err)
		}
		return
	}
	in := s.intake
	in.mu.Lock()
	defer in.mu.Unlock()
	if _, fresh := in.begin(&d); !fresh {
		return
	}
	in.queue = append(in.queue, d)
	in.wake.Signal()
}

// begun notes that this host reads a document now.
func (s *Service) begun(d *store.Document) *job {
	in := s.intake
	in.mu.Lock()
	defer in.mu.Unlock()
	j, _ := in.begin(d)
	j.started = time.Now()
	return j
}

// begin returns the job of a document, and whether it is a new one. The lock is held.
func (in *intake) begin(d *store.Document) (j *job, fresh bool) {
	if j := in.jobs[d.ID]; j != nil {
		return j, false
	}
	ctx, cancel := context.WithCancel(context.Background())
	if len(in.jobs) == 0 {
		in.spell = spell{began: time.Now(), pages: in.pages.Load()}
	}
	in.jobs[d.ID] = &job{ctx: ctx, cancel: cancel, collection: d.Collection, size: d.Size}
	return in.jobs[d.ID], true
}

// under returns how many documents are queued here, or under way.
func (in *intake) under() int {
	in.mu.Lock()
	defer in.mu.Unlock()
	return len(in.jobs)
}

// next waits for a queued document; ok is false when the intake stops.
func (in *intake) next() (d store.Document, j *job, ok bool) {
	in.mu.Lock()
	defer in.mu.Unlock()
	for {
		if in.stopped {
			return d, nil, false
		}
		if i := slices.IndexFunc(in.queue, func(d store.Document) bool { return !in.paused[d.Collection] }); i >= 0 {
			d = in.queue[i]
			in.queue = slices.Delete(in.queue, i, i+1)
			return d, in.jobs[d.ID], true
		}
		in.wake.Wait()
	}
}

func (in *intake) job(id string) *job {
	in.mu.Lock()
	defer in.mu.Unlock()
	return in.jobs[id]
}

// forget ends a document's job and takes it off the queue.
func (in *intake) forget(id string) {
	in.mu.Lock()
	defer in.mu.Unlock()
	if j := in.jobs[id]; j != nil {
		j.cancel()
		in.spell.bytes += j.size
	}
	delete(in.jobs, id)
	in.queue = slices.DeleteFunc(in.queue, func(d store.Document) bool { return d.ID == id })
}

// take reads one document and passes it on to the publisher.
func (s *Service) take(run context.Context, d store.Document, j *job) {
	ctx, cancel := context.WithCancel(run)
	defer cancel()
	defer context.AfterFunc(j.ctx, cancel)()
	j.started = time.Now()
	entry, err := s.read(ctx, &d, j)
	if ctx.Err() != nil {
		return // stopped or removed
	}
	if IsFull(err) {
		s.later(d, j, err)
		return
	}
	if err != nil {
		s.fail(ctx, d, err)
		return
	}
	s.intake.ready <- indexed{d, entry, j}
}

// pause is how long the intake waits before it tries again what no document is to blame for.
const pause = 10 * time.Second

// later puts a document back into the queue after a while, when there may be room on the disk.
func (s *Service) later(d store.Document, j *job, err error) {
	s.Log.Error("a document waits, since nothing can be written", "document", d.Name, "error", err)
	time.AfterFunc(pause, func() {
		in := s.intake
		in.mu.Lock()
		defer in.mu.Unlock()
		if in.jobs[d.ID] == j && !in.stopped {
			in.queue = append(in.queue, d)
			in.wake.Signal()
		}
	})
}

// fail records why a document cannot be taken in. One that was in already stays in as it was.
func (s *Service) fail(ctx context.Context, d store.Document, err error) {
	reason := reasonFor(err)
	s.Log.Warn("a document cannot be taken in", "document", d.Name, "id", d.ID, "reason", reason, "error", err)
	var failed error
	if c, err := s.byID(d.Collection); err == nil && s.isIn(ctx, c, d.ID) {
		failed = s.store.KeepReady(ctx, d.ID, "It could not be read again, and is used as it was read before. "+reason)
	} else {
		failed = s.store.SetState(ctx, d.ID, store.Failed, reason)
	}
	if failed != nil && !errors.Is(failed, ErrNotFound) && ctx.Err() == nil {
		s.Log.Error("a failure cannot be recorded yet", "document", d.ID, "error", failed)
		time.AfterFunc(pause, func() { s.fail(ctx, d, err) })
		return
	}
	s.intake.forget(d.ID)
	s.tell(ctx, d.ID)
}

// read reads a file, keeps its pages and cuts them into passages.
func (s *Service) read(ctx context.Context, d *store.Document, j *job) (index.Document, error) {
	c, err := s.byID(d.Collection)
	if err != nil {
		return index.Document{}, err
	}
	doc, err := s.readPages(ctx, d, j)
	if err != nil {
		return index.Document{}, err
	}
	return s.split(ctx, c, d.ID, doc)
}

// readPages reads a file and keeps its pages.
func (s *Service) readPages(ctx context.Context, d *store.Document, j *job) (*layout.Document, error) {
	c, err := s.byID(d.Collection)
	if err != nil {
		return nil, err
	}
	if err := s.store.SetState(ctx, d.ID, store.Reading, ""); err != nil {
		return nil, err
	}
	s.tell(ctx, d.ID)
	first := d.Pages == 0
	doc, file, err := s.readFile(ctx, d, j)
	if err != nil {
		return nil, err
	}
	info := &file.Info
	if first {
		s.addAttachments(ctx, c, d, file)
	}
	if d.Warning, err = judgePages(doc); err != nil {
		return nil, err
	}
	damage, err := s.damage(ctx, d)
	if err != nil {
		return nil, err
	}
	d.Title, d.Language, d.Pages, d.Labels = doc.Title, string(doc.Language), info.Pages, labels(doc)
	pages := make([][]byte, len(doc.Pages))
	var encoding errgroup.Group
	encoding.SetLimit(workers())
	for i := range doc.Pages {
		encoding.Go(func() (err error) {
			pages[i], err = encodePage(&doc.Pages[i])
			return err
		})
	}
	if err := encoding.Wait(); err != nil {
		return nil, err
	}
	if err := s.correct(ctx, doc); err != nil {
		return nil, err
	}
	d.Scores = scores(doc)
	if !damage.Sound() {
		d.Warning = strings.TrimSpace(fmt.Sprintf("Text may be missing, since %s. Compare the pages with their pictures, or fetch a fresh copy. %s", damage, d.Warning))
		for i := range d.Scores {
			d.Scores[i] = min(d.Scores[i], damagedScore)
		}
	}
	if err := s.store.SetOwnFields(ctx, d.Collection, d.Name, info.About); err != nil {
		return nil, err
	}
	if err := s.store.SetRead(ctx, d, pages); err != nil {
		return nil, err
	}
	s.tell(ctx, d.ID)
	return doc, nil
}

// damagedScore is what a page of a damaged file has at most.
const damagedScore = 60

// mostChecked is how large a file may be that is held to what it says of itself, in bytes.
const mostChecked = 128 << 20

// damage tells what of an original is not as it was written.
func (s *Service) damage(ctx context.Context, d *store.Document) (integrity.Report, error) {
	if d.Size > mostChecked {
		return integrity.Report{}, nil
	}
	path, err := s.original(ctx, d.SHA256)
	if err != nil {
		return integrity.Report{}, err
	}
	data, err := os.ReadFile(path)
	if err != nil {
		return integrity.Report{}, fmt.Errorf("service: %w", err)
	}
	if !isPDF(data[:min(len(data), headLength)]) {
		return integrity.Report{}, nil
	}
	return integrity.Of(data), nil
}

// Limits of one document, so that none keeps the others waiting or takes the memory of all.
// A page takes 10 ms in most files.
const (
	leastTime   = 2 * time.Minute
	timePerPage = time.Second / 4
)

// errSlow says that a document takes more time than it may.
var errSlow = errors.New("it takes too long")

// readFile reads all pages of a file on as many readers as are free.
func (s *Service) readFile(ctx context.Context, d *store.Document, j *job) (*layout.Document, *pdfium.File, error) {
	path, err := s.paged(ctx, d)
	if err != nil {
		return nil, nil, err
	}
	file, err := s.pdf.Open(ctx, path, "")
	if err != nil {
		return nil, nil, err
	}
	n := file.Info.Pages
	j.of.Store(int64(n))
	sheets := make([]*layout.Sheet, n)
	allowed := leastTime + time.Duration(n)*timePerPage
	limited, cancel := context.WithTimeoutCause(ctx, allowed, fmt.Errorf("%w: its %d pages take longer than %s", errSlow, n, allowed.Round(time.Second)))
	defer cancel()
	var glyphs atomic.Int64
	group, reading := errgroup.WithContext(limited)
	group.SetLimit(workers())
	for first := 1; first <= n; first += chunk {
		last := min(first+chunk-1, n)
		group.Go(func() error {
			return file.ReadPages(reading, first, last, func(page *pdf.Page, err error) error {
				if total := glyphs.Add(int64(len(page.Glyphs))); total > s.mostGlyphs {
					return fmt.Errorf("%w: more than %.1f million characters", pdf.ErrTooLarge, float64(s.mostGlyphs)/1e6)
				}
				sheets[page.Number-1] = layout.Read(page, err)
				s.intake.pages.Add(1)
				s.progress(reading, d.ID, j)
				return nil
			})
		})
	}
	if err := group.Wait(); err != nil {
		if cause := context.Cause(limited); errors.Is(cause, errSlow) {
			err = cause
		}
		return nil, nil, err
	}
	doc := layout.Assemble(&file.Info, sheets)
	again, err := s.recognise(ctx, file, doc, sheets)
	if err != nil {
		return nil, nil, err
	}
	if again {
		doc = layout.Assemble(&file.Info, sheets)
	}
	return doc, file, nil
}

// progress counts a page and tells listeners, ten times a second at most.
func (s *Service) progress(ctx context.Context, id string, j *job) {
	j.done.Add(1)
	now, told := time.Now().UnixMilli(), j.told.Load()
	if now-told >= 100 && j.told.CompareAndSwap(told, now) {
		s.tell(ctx, id)
	}
}

// publish adds documents to their indexes, as many at a time as are waiting,
// and marks them ready.
func (s *Service) publish() {
	for first := range s.intake.ready {
		batch := []indexed{first}
		for more := true; more && len(batch) < 64; {
			select {
			case next, ok := <-s.intake.ready:
				if more = ok; ok {
					batch = append(batch, next)
				}
			default:
				more = false
			}
		}
		byCollection := map[string][]indexed{}
		for _, b := range batch {
			if b.job.ctx.Err() == nil {
				byCollection[b.document.Collection] = append(byCollection[b.document.Collection], b)
			}
		}
		for id, docs := range byCollection {
			err := s.publishTo(id, docs)
			for _, b := range docs {
				switch {
				case IsFull(err):
					s.later(b.document, b.job, err)
				case err != nil:
					s.fail(context.Background(), b.document, err)
				}
			}
		}
	}
}

// publishTo takes documents into a collection's index. Ready documents of the
// same names leave it in the same step.
func (s *Service) publishTo(id string, docs []indexed) error {
	ctx := context.Background()
	c, err := s.byID(id)
	if err != nil {
		return nil // removed meanwhile
	}
	c.writing.Lock()
	defer c.writing.Unlock()
	existing, err := s.store.Documents(ctx, id)
	if err != nil {
		return err
	}
	docs = slices.DeleteFunc(docs, func(b indexed) bool { // removed meanwhile
		return !slices.ContainsFunc(existing, func(d store.Document) bool { return d.ID == b.document.ID })
	})
	var add []index.Document
	var replaced []string
	passages := map[string]store.Counts{}
	newest := map[string]string{}
	for _, b := range docs {
		newest[b.document.Name] = b.document.ID
	}
	for _, b := range docs {
		passages[b.document.ID] = counts(&b.index)
		if newest[b.document.Name] != b.document.ID {
			replaced = append(replaced, b.document.ID)
			continue
		}
		add = append(add, b.index)
		for _, old := range existing {
			if old.Name == b.document.Name && old.ID != b.document.ID && old.State == store.Ready {
				replaced = append(replaced, old.ID)
			}
		}
	}
	// A document that was read again is in already, as it was read before.
	remove := slices.Clone(replaced)
	for _, d := range add {
		remove = append(remove, d.Key)
	}
	if err := c.index.Load().Apply(add, remove); err != nil {
		return err
	}
	if err := s.store.SetReady(ctx, passages, replaced); err != nil {
		return err
	}
	s.encoding.more()
	if err := s.newRanker(ctx, c); err != nil {
		return err
	}
	for _, b := range docs {
		s.intake.forget(b.document.ID)
		s.Log.Info("document ready", "document", b.document.Name, "collection", c.Name, "pages", b.document.Pages,
			"passages", len(b.index.Passages), "ms", time.Since(b.job.started).Milliseconds())
		s.tell(ctx, b.document.ID)
	}
	for _, old := range replaced {
		s.tell(ctx, old)
	}
	return nil
}

func (s *Service) byID(id string) (*collection, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if c := s.collections[id]; c != nil {
		return c, nil
	}
	return nil, fmt.Errorf("collection %s: %w", id, ErrNotFound)
}

// tell sends a document as it is now to all listeners.
func (s *Service) tell(ctx context.Context, id string) {
	d, err := s.store.Document(context.WithoutCancel(ctx), id)
	if err != nil {
		return
	}
	c, err := s.byID(d.Collection)
	if err != nil {
		return
	}
	c.forget(id)
	described := s.describe(d)
	s.events.send(Event{Collection: c.Name, Document: &described})
}

func labels(doc *layout.Document) []string {
	out := make([]string, len(doc.Pages))
	for i := range doc.Pages {
		out[i] = doc.Pages[i].Label
	}
	return out
}

func encodePage(p *layout.Page) ([]byte, error) {
	data, err := json.Marshal(p)
	if err != nil {
		return nil, fmt.Errorf("service: keep page %d: %w", p.Number, err)
	}
	return s2.Encode(nil, data), nil
}

func decodePage(data []byte) (*layout.Page, error) {
	raw, err := s2.Decode(nil, data)
	if err != nil {
		return nil, fmt.Errorf("kept page: %w: %w", errDamaged, err)
	}
	p := new(layout.Page)
	if err := json.Unmarshal(raw, p); err != nil {
		return nil, fmt.Errorf("kept page: %w: %w", errDamaged, err)
	}
	return p, nil
}
