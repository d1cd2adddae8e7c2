// Package sources keeps collections up to date with where their documents come from: addresses on
// the web, directories on the machine of the service, and folders that a server shows by WebDAV.
//
// Each source is looked at from time to time. What is new or has changed there is put in under
// the same name, so that it becomes a new version; what is gone from a folder for a while is put
// into the bin. What is known of a source is kept after each step, so that nothing is fetched
// twice after a restart and nothing is missed. A source that cannot be reached changes nothing.
package sources

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/url"
	"path/filepath"
	"slices"
	"sync"
	"time"

	"jardinet/api"
	"jardinet/fetch"
	"jardinet/folder"
	"jardinet/service"
	"jardinet/store"
)

// Options say what may be fetched and how often is looked.
type Options struct {
	Fetch   fetch.Policy
	Secrets map[string]string // "person:passphrase" for WebDAV, by the name that sources give them
	Folders []string          // directories of this machine that may be watched, with all below them
	Tick    time.Duration     // between two looks at folders; 5 seconds if it is 0
	Grace   time.Duration     // after which what is gone is removed; a minute if it is 0
	Log     *slog.Logger
}

// Limits of sources.
const (
	mostSources = 100       // of a collection
	leastWait   = 5         // minutes between two fetches of an address
	mostWait    = 527_040   // minutes, which are a year and a day
	longestLook = time.Hour // at one source
)

// A Keeper looks at the sources of all collections.
type Keeper struct {
	Options
	service *service.Service
	store   *store.Store
	fetcher *fetch.Fetcher
	cancel  context.CancelFunc
	done    sync.WaitGroup
	looking sync.Mutex // at one source at a time
}

// A known is what is known of a source.
type known struct {
	Files map[string]folder.Known `json:"files,omitempty"` // of a folder, by path
	Pages map[string]fetched      `json:"pages,omitempty"` // of an address, by address
	Lists map[string]string       `json:"lists,omitempty"` // states of lists of fields, by path
}

// A fetched is a page that was fetched.
type fetched struct {
	fetch.Stamp
	Document string `json:"document"` // its name
}

// Open begins to look at what there is.
func Open(s *service.Service, opts Options) *Keeper {
	opts.Tick, opts.Grace = cmp.Or(opts.Tick, 5*time.Second), cmp.Or(opts.Grace, time.Minute)
	if opts.Log == nil {
		opts.Log = slog.New(slog.DiscardHandler)
	}
	ctx, cancel := context.WithCancel(context.Background())
	k := &Keeper{Options: opts, service: s, store: s.Store(), fetcher: fetch.New(opts.Fetch), cancel: cancel}
	k.done.Go(func() { s.Duty(ctx, service.SourcesDuty, k.run) })
	return k
}

// Close ends the looking, after the file that is being taken.
func (k *Keeper) Close() {
	k.cancel()
	k.done.Wait()
}

func (k *Keeper) run(ctx context.Context) {
	tick := time.NewTicker(k.Tick)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		all, err := k.store.Sources(ctx, "")
		if err != nil && ctx.Err() == nil {
			k.Log.Error("the sources cannot be read", "error", err)
		}
		for _, one := range all {
			src, err := decode(&one)
			if err == nil && due(src, time.Now()) {
				_, err = k.look(ctx, one)
			}
			if err != nil && ctx.Err() == nil {
				k.Log.Warn("a source could not be looked at", "source", one.ID, "error", err)
			}
		}
	}
}

func due(s *api.Source, now time.Time) bool {
	if s.Checked.IsZero() {
		return true
	}
	once := s.Kind == "address" && s.Minutes == 0
	return !once && now.Sub(s.Checked) >= time.Duration(s.Minutes)*time.Minute
}

func decode(one *store.Source) (*api.Source, error) {
	s := new(api.Source)
	if err := json.Unmarshal(one.Data, s); err != nil {
		return nil, fmt.Errorf("source %s: %w", one.ID, err)
	}
	s.ID = one.ID
	return s, nil
}

// List returns a collection's sources, the oldest first.
func (k *Keeper) List(ctx context.Context, collection string) ([]api.Source, error) {
	id, err := k.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	all, err := k.store.Sources(ctx, id)
	if err != nil {
		return nil, err
	}
	out := []api.Source{}
	for i := range all {
		s, err := decode(&all[i])
		if err != nil {
			return nil, err
		}
		out = append(out, *s)
	}
	return out, nil
}

// Add adds a source, and looks at an address at once: what is wrong with it is told then.
func (k *Keeper) Add(ctx context.Context, collection string, s api.Source) (*api.Source, error) {
	id, err := k.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	s.ID, s.Checked, s.Files, s.Problem = "", time.Time{}, 0, ""
	if err := k.check(&s); err != nil {
		return nil, err
	}
	all, err := k.List(ctx, collection)
	if err != nil {
		return nil, err
	}
	if len(all) >= mostSources {
		return nil, fmt.Errorf("the collection has %d sources, and may have no more; remove one first: %w", len(all), service.ErrInvalid)
	}
	if slices.ContainsFunc(all, func(o api.Source) bool { return o.Kind == s.Kind && o.At == s.At }) {
		return nil, fmt.Errorf("%s is a source of the collection already: %w", s.At, service.ErrExists)
	}
	if s.ID, err = k.store.AddSource(ctx, id, s); err != nil {
		return nil, err
	}
	out, err := k.Look(ctx, collection, s.ID)
	if err == nil && out.Problem != "" && out.Files == 0 {
		err = fmt.Errorf("%s: %w", out.Problem, service.ErrInvalid)
	}
	if err != nil {
		return nil, errors.Join(err, k.store.RemoveSource(ctx, id, s.ID))
	}
	return out, nil
}

// check tells what is wrong with a source.
func (k *Keeper) check(s *api.Source) error {
	if s.Minutes < 0 || s.Minutes > mostWait {
		return fmt.Errorf("%d minutes between two looks: choose 0 to %d: %w", s.Minutes, mostWait, service.ErrInvalid)
	}
	switch s.Kind {
	case "address", "webdav":
		if u, err := url.Parse(s.At); err != nil || u.Host == "" {
			return fmt.Errorf("the address %q is not like https://host/path: %w", s.At, service.ErrInvalid)
		}
		if s.Kind == "address" && s.Minutes > 0 && s.Minutes < leastWait {
			return fmt.Errorf("an address is looked at every %d minutes at most: %w", leastWait, service.ErrInvalid)
		}
		if s.Secret != "" {
			if _, ok := k.Secrets[s.Secret]; !ok {
				return fmt.Errorf("the operator has given this service no secret of the name %q; start it with --secret %s=FILE: %w", s.Secret, s.Secret, service.ErrInvalid)
			}
		}
		return nil
	case "folder":
		path, err := filepath.EvalSymlinks(s.At)
		if err != nil || !filepath.IsAbs(s.At) {
			return fmt.Errorf("%q is no folder on the machine of the service; give its whole path: %w", s.At, service.ErrInvalid)
		}
		if !slices.ContainsFunc(k.Folders, func(root string) bool { return below(root, path) }) {
			return fmt.Errorf("the operator of this service does not let it watch %s; it has to be started with --watch-below %s: %w", s.At, s.At, service.ErrInvalid)
		}
		s.At = path
		return nil
	}
	return fmt.Errorf("a source is an address, a folder or webdav, and not %q: %w", s.Kind, service.ErrInvalid)
}

func below(root, path string) bool {
	inside, err := filepath.Rel(root, path)
	return err == nil && filepath.IsLocal(inside)
}

// Remove forgets a source. What came from it stays.
func (k *Keeper) Remove(ctx context.Context, collection, id string) error {
	c, err := k.service.CollectionID(collection)
	if err != nil {
		return err
	}
	if err := k.store.RemoveSource(ctx, c, id); err != nil {
		return fmt.Errorf("source %q in collection %q: %w", id, collection, err)
	}
	return nil
}

// Look looks at a source now.
func (k *Keeper) Look(ctx context.Context, collection, id string) (*api.Source, error) {
	c, err := k.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	all, err := k.store.Sources(ctx, c)
	if err != nil {
		return nil, err
	}
	for _, one := range all {
		if one.ID == id {
			return k.look(ctx, one)
		}
	}
	return nil, fmt.Errorf("source %q in collection %q: %w", id, collection, service.ErrNotFound)
}

// look looks at a source, takes what is new and notes how it went.
func (k *Keeper) look(ctx context.Context, one store.Source) (*api.Source, error) {
	k.looking.Lock()
	defer k.looking.Unlock()
	ctx, cancel := context.WithTimeout(ctx, longestLook)
	defer cancel()
	s, err := decode(&one)
	if err != nil {
		return nil, err
	}
	l := &look{Keeper: k, source: s, known: known{Files: map[string]folder.Known{}, Pages: map[string]fetched{}, Lists: map[string]string{}}}
	if err := json.Unmarshal(one.State, &l.known); err != nil {
		return nil, fmt.Errorf("what is known of source %s: %w", one.ID, err)
	}
	if l.collection, err = k.service.CollectionName(one.Collection); err != nil {
		return nil, fmt.Errorf("source %s: %w", one.ID, err)
	}
	if s.Kind == "address" {
		err = l.address(ctx)
	} else {
		err = l.folder(ctx)
	}
	s.Checked, s.Problem = time.Now().UTC().Truncate(time.Second), ""
	if err != nil {
		s.Problem = err.Error()
	}
	if err := k.store.SetSource(context.WithoutCancel(ctx), one.ID, s, &l.known); err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, err
	}
	return s, nil
}
