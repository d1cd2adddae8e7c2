// Package service ties the parts together: collections, the intake of
// documents, questions, pages and measurements. It knows nothing of HTTP.
//
// Intake is a queue of documents in the store. Each step can be repeated
// without harm, so after a kill at any instant a document is either wholly in
// or still queued: pages are written in one transaction, the index takes a
// document in one step and ignores it the second time, and only then is the
// document marked ready. What a crash leaves different between store and index
// is put right at the next start, the store being the truth.
package service

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"regexp"
	"runtime"
	"sync"
	"sync/atomic"
	"time"

	"jardinet/access"
	"jardinet/answer"
	"jardinet/api"
	"jardinet/cluster"
	"jardinet/index"
	"jardinet/layout"
	"jardinet/modelapi"
	"jardinet/ocr"
	"jardinet/passage"
	"jardinet/pdfium"
	"jardinet/rank"
	"jardinet/store"
)

// Options say where the service keeps its state and what it may use.
type Options struct {
	Data    string // directory
	Version string // of the program, recorded in measurements
	PDF     pdfium.Options
	Scripts []string // languages of text recognition, such as "eng"; nil for those installed, "none" to do without
	Log     *slog.Logger
	// Memory is how many MiB the service and its readers may use; 0 for what the machine has.
	Memory int
	// Outside is what settings may do with outside models; nil for nothing.
	Outside *modelapi.Policy
	// Cluster says which other hosts this one shares its records with; nil for a host alone.
	Cluster *cluster.Options
	// LeaveCluster has the records of a cluster be this host's own from now on.
	LeaveCluster bool
	// AuditFor is how long it is kept who did what; 0 is for ever.
	AuditFor time.Duration
}

// A Service is open on one data directory. It may be used by many goroutines.
type Service struct {
	Options
	store    *store.Store
	pdf      *pdfium.Engine
	events   *broker
	intake   *intake
	encoding *encoding
	auditor  *auditor
	watching context.CancelFunc
	removed  chan struct{}   // something was removed for good
	hosts    *hosts          // the service is one of several; nil if alone
	hurry    context.Context // done when outside models are no longer waited for
	hurryUp  context.CancelFunc

	mostGlyphs int64 // of a document

	syncing sync.Mutex            // what is recorded of collections is taken over
	curious []func(*store.Change) // who wants to know of changes
	started bool                  // all that was recorded has been opened

	mu          sync.Mutex
	collections map[string]*collection  // by id
	files       map[string]*pdfium.File // whose pages were shown, by hash

	recogniser func() (*ocr.Reader, error)
	remembered tableCache
	sheeting   sync.Mutex // sheets are made
}

// A collection is an open one.
type collection struct {
	store.Collection
	recipe atomic.Pointer[Recipe]
	ranker atomic.Pointer[rank.Ranker]
	index  atomic.Pointer[index.Index] // nil where it lies in shards

	about    atomic.Pointer[string] // its description
	sharing  atomic.Pointer[api.Sharing]
	lessons  atomic.Pointer[schooling]
	taught   atomic.Uint64 // how often its lessons have changed
	outdated atomic.Bool   // what the ranker was made of has changed on another host
	teaching sync.Mutex    // lessons change

	writing sync.Mutex // store and index change together

	mu      sync.Mutex
	known   map[string]answer.Document // by document id
	changes int                        // of what is known
}

// Errors that callers tell apart, besides those of the store.
var (
	ErrNotFound = store.ErrNotFound
	ErrExists   = store.ErrExists
	ErrInvalid  = errors.New("invalid")
	ErrRefused  = fmt.Errorf("not taken in: %w", ErrInvalid) // a file
)

// Open opens the service and goes on with the intake that was under way.
func Open(ctx context.Context, opts Options) (*Service, error) {
	s, err := begin(ctx, opts)
	if store.IsCorrupt(err) {
		return nil, fmt.Errorf("the records in %s are damaged where nothing goes without them (%w); put a backup in their place with: jardinet restore", opts.Data, err)
	}
	return s, err
}

func begin(ctx context.Context, opts Options) (*Service, error) {
	if opts.Log == nil {
		opts.Log = slog.New(slog.DiscardHandler)
	}
	data, err := filepath.Abs(opts.Data)
	if err != nil {
		return nil, fmt.Errorf("service: %w", err)
	}
	opts.Data = data
	if opts.PDF.Cache == "" {
		opts.PDF.Cache = codeCache(data)
	}
	opts.Memory = memory(opts.Memory)
	if opts.PDF.Memory == 0 {
		opts.PDF.Memory = readerMemory(opts.Memory)
	}
	s := &Service{
		Options: opts, pdf: pdfium.NewEngine(opts.PDF), events: newBroker(), removed: make(chan struct{}, 1),
		collections: map[string]*collection{}, files: map[string]*pdfium.File{}, mostGlyphs: mostGlyphs(opts.Memory),
	}
	if err := s.connect(ctx); err != nil {
		return nil, err
	}
	if s.store, err = store.Open(ctx, data); err != nil {
		return nil, errors.Join(err, s.leave())
	}
	s.hurry, s.hurryUp = context.WithCancel(context.Background())
	s.recogniser = sync.OnceValues(func() (*ocr.Reader, error) { return ocr.Open(context.Background(), opts.Scripts) })
	if err := errors.Join(s.stayAlone(ctx), s.catchUp(ctx)); err != nil {
		return nil, errors.Join(err, s.leave(), s.store.Close())
	}
	if err := s.start(ctx); err != nil {
		return nil, errors.Join(err, s.leave(), s.store.Close())
	}
	watching, stop := context.WithCancel(context.Background())
	s.watching = stop
	go s.Duty(watching, watchDuty, s.watch)
	go s.keepLogEmpty(watching)
	return s, nil
}

// start opens what is recorded and starts the work. What other hosts change meanwhile waits.
func (s *Service) start(ctx context.Context) error {
	s.syncing.Lock()
	defer s.syncing.Unlock()
	if err := s.openCollections(ctx); err != nil {
		return err
	}
	s.startAudit()
	s.startEncoding()
	if err := errors.Join(s.startIntake(ctx), s.startTogether()); err != nil {
		s.encoding.stop()
		s.stopAudit()
		return err
	}
	s.started = true
	return nil
}

// codeCache is where compiled code is kept: in the user's cache folder, so that
// a new data directory does not compile again, or else with the data.
func codeCache(data string) string {
	if dir, err := os.UserCacheDir(); err == nil {
		dir = filepath.Join(dir, "jardinet", "code")
		if os.MkdirAll(dir, 0o755) == nil {
			return dir
		}
	}
	return filepath.Join(data, "cache", "code")
}

// Close stops the intake at the next safe point and closes everything.
func (s *Service) Close() error {
	s.hurryUp()
	s.watching()
	s.hosts.end()
	s.intake.stop()
	s.encoding.stop()
	s.stopAudit()
	s.events.close()
	return errors.Join(s.pdf.Close(), s.leave(), s.store.Close())
}

// leave has the other hosts go on without this one.
func (s *Service) leave() error {
	if s.hosts == nil {
		return nil
	}
	return s.hosts.Close()
}

// Hurry has questions under way answered without waiting for outside models any longer.
func (s *Service) Hurry() { s.hurryUp() }

// Check tells whether the service can do its work: read, and write.
func (s *Service) Check(ctx context.Context) error {
	_, err := s.store.Collections(ctx)
	return errors.Join(err, s.store.CheckRoom())
}

// IsFull tells whether an error says that nothing can be written now.
func IsFull(err error) bool { return store.IsFull(err) }

func (s *Service) openCollections(ctx context.Context) error {
	all, err := s.store.Collections(ctx)
	if err != nil {
		return err
	}
	for _, c := range all {
		if _, err := s.openCollection(c); err != nil {
			return err
		}
	}
	return nil
}

func (s *Service) indexDir(id string) string { return filepath.Join(s.Data, "index", id) }

func (s *Service) openCollection(sc store.Collection) (*collection, error) {
	c := &collection{Collection: sc, known: map[string]answer.Document{}}
	err := errors.Join(s.settle(c, &sc), s.newRanker(context.Background(), c))
	if err != nil {
		return nil, err
	}
	if s.hosts != nil {
		err = s.clearIndex(sc.ID)
	} else {
		err = s.openIndex(c)
	}
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	s.collections[sc.ID] = c
	return c, nil
}

// settle takes over what is recorded of a collection.
func (s *Service) settle(c *collection, sc *store.Collection) error {
	var recipe Recipe
	if err := json.Unmarshal(sc.Recipe, &recipe); err != nil {
		return fmt.Errorf("service: recipe of collection %s: %w", sc.Name, err)
	}
	if recipe.Ranking != nil && *recipe.Ranking == (rank.Weights{}) {
		recipe.Ranking = nil // of an older program, whose features had other names
	}
	if recipe.Embedding != nil {
		recipe.Embedding.Policy = s.Outside
	}
	sharing := new(api.Sharing)
	if err := json.Unmarshal(sc.Sharing, sharing); err != nil {
		return fmt.Errorf("service: sharing of collection %s: %w", sc.Name, err)
	}
	c.recipe.Store(&recipe)
	c.sharing.Store(sharing)
	c.about.Store(&sc.Description)
	return nil
}

// openIndex opens the index of a collection, and makes an empty one in the place of one that cannot
// be used.
func (s *Service) openIndex(c *collection) error {
	dir, space := s.indexDir(c.ID), spaceOf(c.recipe.Load())
	if err := os.RemoveAll(dir + ".new"); err != nil {
		return fmt.Errorf("service: %w", err)
	}
	x, err := index.Open(dir, space)
	if err != nil {
		s.Log.Warn("the index cannot be used and is made anew", "collection", c.Name, "error", err)
		if err := os.RemoveAll(dir); err != nil {
			return fmt.Errorf("service: %w", err)
		}
		if x, err = index.Open(dir, space); err != nil {
			return err
		}
	}
	c.index.Store(x)
	return nil
}

// named returns the open collection of that name.
func (s *Service) named(name string) (*collection, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, c := range s.collections {
		if c.Name == name {
			return c, nil
		}
	}
	return nil, NoCollection(name)
}

// NoCollection says that there is no collection of a name, in the same words whether it does
// not exist or is not for the caller.
func NoCollection(name string) error {
	return fmt.Errorf("collection %q: %w", name, ErrNotFound)
}

// Limits of what may be kept.
const (
	mostCollections = 1000
	mostDocuments   = 100_000 // of a collection, with their versions
)

var collectionName = regexp.MustCompile(`^[a-z0-9][a-z0-9._-]{0,62}$`)

// CreateCollection makes an empty collection.
func (s *Service) CreateCollection(ctx context.Context, name string, recipe *Recipe) (*Collection, error) {
	if !collectionName.MatchString(name) {
		return nil, fmt.Errorf("collection name %q: use 1 to 63 lower-case letters, digits, dots and dashes, beginning with a letter or digit: %w", name, ErrInvalid)
	}
	s.mu.Lock()
	n := len(s.collections)
	s.mu.Unlock()
	if n >= mostCollections {
		return nil, fmt.Errorf("there are %d collections, and there may be no more; remove one first: %w", n, ErrInvalid)
	}
	if recipe == nil {
		recipe = &api.DefaultRecipe
	}
	if err := s.prepare(ctx, recipe); err != nil {
		return nil, err
	}
	sc, err := s.store.CreateCollection(ctx, name, recipe)
	if err != nil {
		return nil, fmt.Errorf("collection %q: %w", name, err)
	}
	if _, err := s.openCollection(*sc); err != nil {
		return nil, err
	}
	return s.Collection(ctx, name)
}

// Collection returns the collection of that name.
func (s *Service) Collection(ctx context.Context, name string) (*Collection, error) {
	c, err := s.named(name)
	if err != nil {
		return nil, err
	}
	docs, err := s.store.Documents(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	out := &Collection{
		Name: c.Name, Created: c.Created, Recipe: *c.recipe.Load(), Sharing: *c.sharing.Load(), Right: access.From(ctx).In(c.ID).String(), Documents: map[string]int{},
		Passages: s.searcher(c).Passages(), Languages: []string{}, Description: *c.about.Load(), Paused: s.intake.isPaused(c.ID),
	}
	for _, d := range docs {
		if d.State == store.Removed {
			continue
		}
		out.Documents[string(d.State)]++
		if d.Current() {
			out.Bytes += d.Size
		}
		if d.State == store.Ready {
			_, low := sumUp(d.Scores)
			out.Pages, out.Doubtful = out.Pages+d.Pages, out.Doubtful+low
		}
	}
	if access.From(ctx).In(c.ID) >= access.Owner {
		if out.Reports, err = s.store.CountReports(ctx, c.ID); err != nil {
			return nil, err
		}
	}
	for _, l := range s.searcher(c).Languages() {
		out.Languages = append(out.Languages, string(l))
	}
	return out, nil
}

// Collections returns all collections that the caller may read, by name.
func (s *Service) Collections(ctx context.Context) ([]Collection, error) {
	all, err := s.store.Collections(ctx)
	if err != nil {
		return nil, err
	}
	out := []Collection{}
	for _, sc := range all {
		if access.From(ctx).In(sc.ID) < access.Reader {
			continue
		}
		c, err := s.Collection(ctx, sc.Name)
		if errors.Is(err, ErrNotFound) {
			continue // removed meanwhile
		}
		if err != nil {
			return nil, err
		}
		out = append(out, *c)
	}
	return out, nil
}

// RemoveCollection removes a collection with its documents and measurements.
func (s *Service) RemoveCollection(ctx context.Context, name string) error {
	c, err := s.named(name)
	if err != nil {
		return err
	}
	docs, err := s.store.Documents(ctx, c.ID)
	if err != nil {
		return err
	}
	if err := s.store.RemoveCollection(ctx, c.ID); err != nil {
		return err
	}
	s.mu.Lock()
	delete(s.collections, c.ID)
	s.mu.Unlock()
	for _, d := range docs {
		if err := s.drop(ctx, d.SHA256); err != nil {
			return err
		}
	}
	s.events.send(Event{Collection: name, Removed: name})
	if err := os.RemoveAll(s.indexDir(c.ID)); err != nil {
		return fmt.Errorf("service: remove the index of %s: %w", name, err)
	}
	return nil
}

// workers is how many documents are read at a time. Each keeps a reader busy.
func workers() int { return max(2, runtime.GOMAXPROCS(0)) }

// split cuts a document by a collection's recipe into what the index takes, with those
// vectors that were made before, and keeps the abbreviations that it explains.
func (s *Service) split(ctx context.Context, c *collection, id string, doc *layout.Document) (index.Document, error) {
	out, explained, err := s.cut(ctx, c, id, doc)
	if err != nil {
		return out, err
	}
	return out, s.store.SetAbbreviations(ctx, id, explained)
}

// cut is split for one who keeps nothing.
func (s *Service) cut(ctx context.Context, c *collection, id string, doc *layout.Document) (out index.Document, explained [][2]string, err error) {
	out = index.Document{Key: id}
	recipe := c.recipe.Load()
	passages := passage.Split(doc, recipe.Passage)
	texts := make([]embedded, len(passages))
	for i := range passages {
		texts[i] = embeddedOf(doc.Title, &passages[i])
	}
	vectors, err := s.keptVectors(ctx, recipe, texts)
	if err != nil {
		return out, nil, err
	}
	for i := range passages {
		p := &passages[i]
		stored, err := passage.Encode(p)
		if err != nil {
			return out, nil, err
		}
		for _, e := range rank.Abbreviations(p.Text) {
			explained = append(explained, [2]string{e.Term, e.Means})
		}
		entry := entryOf(doc.Title, p, stored)
		entry.Vector = vectors[i]
		out.Passages = append(out.Passages, entry)
	}
	return out, explained, nil
}

// entryOf returns what the index takes of a passage, without its vector.
func entryOf(title string, p *passage.Passage, stored []byte) index.Passage {
	heading := p.Heading()
	if title != "" {
		heading = title + " › " + heading
	}
	return index.Passage{Heading: heading, Body: p.Text, Language: p.Language, Stored: stored}
}

// counts returns how many passages an entry has, and how many vectors.
func counts(e *index.Document) store.Counts {
	return store.Counts{Passages: len(e.Passages), Encoded: e.Encoded()}
}
