// Package people knows who calls: people with a passphrase, or for whom a provider vouches, and programs
// with a key; and what each of them may do in which collection.
//
// As long as nobody has been let in, everybody on the machine may do everything, and the first
// administrator is made with a secret that is printed when the service starts.
package people

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"time"

	"jardinet/access"
	"jardinet/api"
	"jardinet/service"
	"jardinet/store"
)

// How long a session lasts, and without being used.
const (
	sessionLasts = 7 * 24 * time.Hour
	sessionIdle  = 12 * time.Hour
)

// useNoted is how exactly it is known when a key or a session was last used.
const useNoted = time.Minute

// A Registry knows who calls a service. It may be used by many goroutines.
type Registry struct {
	service *service.Service
	store   *store.Store

	mu      sync.Mutex
	open    bool   // nobody has been let in
	starter string // secret of the link for an administrator; empty once it is used
	used    map[string]time.Time
	failed  map[string]*failures // by name, and by address
	hashing chan struct{}        // passphrases are tried a few at a time, each takes 19 MiB
}

// failures are vain attempts to sign in, one after another.
type failures struct {
	count int
	last  time.Time
}

// Open opens the registry of a service. With another, whoever holds the secret that Starter returns may
// make one more administrator, after the others have lost their passphrases.
func Open(ctx context.Context, s *service.Service, another bool) (*Registry, error) {
	r := &Registry{service: s, store: s.Store(), used: map[string]time.Time{}, failed: map[string]*failures{}, hashing: make(chan struct{}, 2)}
	s.OnChange(r.changed)
	if err := r.hearOfAttempts(); err != nil {
		return nil, err
	}
	some, err := r.store.HasPrincipals(ctx)
	if err != nil {
		return nil, err
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	r.open = !some
	if r.open || another {
		r.starter = access.NewToken()
	}
	return r, nil
}

// changed takes note of people whom another host has let in.
func (r *Registry) changed(c *store.Change) {
	if !c.Touches("principals") {
		return
	}
	some, err := r.store.HasPrincipals(context.Background())
	if err != nil {
		r.service.Log.Error("it is not known whether anybody has been let in", "error", err)
	}
	if some {
		r.letIn()
	}
}

// Starter returns the secret with which the first administrator is made, or another one; it is
// empty once that has been done.
func (r *Registry) Starter() string {
	r.mu.Lock()
	defer r.mu.Unlock()
	return r.starter
}

// IsOpen tells whether nobody has been let in yet, so that everybody on this machine may do everything.
func (r *Registry) IsOpen() bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	return r.open
}

// letIn closes the service to those who have not signed in.
func (r *Registry) letIn() {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.open, r.starter = false, ""
}

// Caller returns who calls with a key, or in a session, or with neither. A caller without a
// right to anything is nil; access.ErrUnknown says that what was given is no longer good.
func (r *Registry) Caller(ctx context.Context, key, session string) (*access.Caller, error) {
	switch starter := r.Starter(); {
	case key != "" && starter != "" && access.Same(key, starter):
		return &access.Caller{Name: "first administrator", Kind: access.Starter, Administrator: true}, nil
	case r.IsOpen() && key == "":
		return &access.Caller{Kind: access.Open, Administrator: true}, nil
	case key != "":
		return r.callerWithKey(ctx, key)
	case session != "":
		return r.callerInSession(ctx, session)
	}
	return nil, nil
}

func (r *Registry) callerWithKey(ctx context.Context, key string) (*access.Caller, error) {
	p, err := r.store.PrincipalByKey(ctx, access.Hash(key))
	if errors.Is(err, service.ErrNotFound) {
		return nil, fmt.Errorf("this key is not known; it may have been revoked: %w", access.ErrUnknown)
	}
	if err != nil {
		return nil, err
	}
	if !p.Expires.IsZero() && time.Now().After(p.Expires) {
		return nil, fmt.Errorf("the key %s expired on %s; ask an administrator for a new one: %w", p.Name, p.Expires.Format(time.DateOnly), access.ErrUnknown)
	}
	r.noteUse(ctx, p, nil)
	return caller(p), nil
}

func (r *Registry) callerInSession(ctx context.Context, session string) (*access.Caller, error) {
	hash := access.Hash(session)
	p, err := r.store.PrincipalBySession(ctx, hash, time.Now().Add(-sessionLasts), time.Now().Add(-sessionIdle))
	if errors.Is(err, service.ErrNotFound) {
		return nil, fmt.Errorf("the session has ended; sign in again: %w", access.ErrUnknown)
	}
	if err != nil {
		return nil, err
	}
	r.noteUse(ctx, p, hash)
	return caller(p), nil
}

func caller(p *store.Principal) *access.Caller {
	out := &access.Caller{ID: p.ID, Name: p.Name, Kind: access.Kind(p.Kind), Administrator: p.Administrator, Asks: p.Asks, Rights: map[string]access.Right{}}
	for collection, right := range p.Rights {
		out.Rights[collection] = access.Right(right)
	}
	return out
}

// noteUse records that a principal is here, once a minute at most.
func (r *Registry) noteUse(ctx context.Context, p *store.Principal, session []byte) {
	name := p.ID + string(session)
	r.mu.Lock()
	fresh := time.Since(r.used[name]) < useNoted
	if !fresh {
		r.used[name] = time.Now()
	}
	r.mu.Unlock()
	if fresh {
		return
	}
	r.service.Aside(ctx, func(ctx context.Context) {
		if err := r.store.Use(ctx, p.ID, session, time.Now().Add(-sessionLasts), time.Now().Add(-sessionIdle)); err != nil {
			r.service.Log.Warn("the use of a key or session could not be noted", "error", err) // which is no reason to refuse
		}
	})
}

// Vain attempts to sign in under a name, or from an address, after which one has to wait,
// twice as long each time.
const (
	patience = 5
	wait     = 15 * time.Second
	longest  = 15 * time.Minute
)

// SignIn begins a session of the person with this name and passphrase.
func (r *Registry) SignIn(ctx context.Context, name, passphrase, address string) (session string, err error) {
	keys := []string{"name " + name, "from " + address}
	if left := r.mustWait(keys); left > 0 {
		return "", &access.Wait{For: left, Reason: fmt.Sprintf("too many vain attempts to sign in; try again in %s", left.Round(time.Second))}
	}
	p, err := r.store.PrincipalNamed(ctx, name)
	if err != nil && !errors.Is(err, service.ErrNotFound) {
		return "", err
	}
	kept := ""
	if p != nil && p.Kind == string(access.Person) {
		kept = string(p.Secret)
	}
	good, err := r.isPassphrase(ctx, kept, passphrase)
	if err != nil {
		return "", err
	}
	if !good {
		r.fail(keys)
		r.spread(attempts{Vain: keys})
		return "", fmt.Errorf("there is no such name with this passphrase: %w", access.ErrUnknown)
	}
	r.succeed(keys[0])
	r.spread(attempts{Succeeded: keys[0]})
	return r.begin(ctx, p)
}

// SignInAs begins a session of a person whom a provider vouches for. One who comes for the
// first time is let in under that name, with no right to anything yet.
func (r *Registry) SignInAs(ctx context.Context, subject, name string) (session string, err error) {
	p, err := r.store.PrincipalBySubject(ctx, subject)
	if errors.Is(err, service.ErrNotFound) {
		p, err = r.welcome(ctx, subject, name)
	}
	if err != nil {
		return "", err
	}
	return r.begin(ctx, p)
}

func (r *Registry) welcome(ctx context.Context, subject, name string) (*store.Principal, error) {
	if r.IsOpen() {
		return nil, fmt.Errorf("the first administrator has to be made before others can sign in: %w", access.ErrDenied)
	}
	p := &store.Principal{Name: name, Kind: string(access.Person), Secret: []byte{}, Subject: subject}
	err := r.add(ctx, p, nil)
	if errors.Is(err, service.ErrExists) {
		err = fmt.Errorf("somebody else is called %q here already; an administrator has to remove that person first: %w", name, access.ErrDenied)
	}
	return p, err
}

func (r *Registry) begin(ctx context.Context, p *store.Principal) (session string, err error) {
	session = access.NewToken()
	return session, r.store.AddSession(ctx, access.Hash(session), p.ID)
}

// isPassphrase tries a passphrase, a few at a time.
func (r *Registry) isPassphrase(ctx context.Context, kept, passphrase string) (bool, error) {
	select {
	case r.hashing <- struct{}{}:
		defer func() { <-r.hashing }()
		return access.IsPassphrase(kept, passphrase), nil
	case <-ctx.Done():
		return false, ctx.Err()
	}
}

func (r *Registry) mustWait(keys []string) (left time.Duration) {
	r.mu.Lock()
	defer r.mu.Unlock()
	for _, k := range keys {
		if f := r.failed[k]; f != nil && f.count >= patience {
			pause := min(longest, wait<<min(f.count-patience, 10))
			left = max(left, pause-time.Since(f.last))
		}
	}
	return left
}

// remembered is how many names and addresses of vain attempts are known at a time.
const remembered = 10_000

func (r *Registry) fail(keys []string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	for k, f := range r.failed {
		if len(r.failed) > remembered || time.Since(f.last) > 2*longest {
			delete(r.failed, k)
		}
	}
	for _, k := range keys {
		if r.failed[k] == nil {
			r.failed[k] = &failures{}
		}
		r.failed[k].count++
		r.failed[k].last = time.Now()
	}
}

func (r *Registry) succeed(key string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	delete(r.failed, key)
}

// SignOut ends a session.
func (r *Registry) SignOut(ctx context.Context, session string) error {
	return r.store.RemoveSession(ctx, access.Hash(session))
}

// Session describes the caller.
func (r *Registry) Session(ctx context.Context) *api.Session {
	out := &api.Session{Rights: map[string]string{}}
	c := access.From(ctx)
	if c == nil {
		return out
	}
	out.Name, out.Kind, out.Administrator = c.Name, string(c.Kind), c.Administrator
	out.Rights = r.byName(c.Rights)
	return out
}

// byName names the collections of rights.
func (r *Registry) byName(rights map[string]access.Right) map[string]string {
	out := map[string]string{}
	for id, right := range rights {
		if name, err := r.service.CollectionName(id); err == nil { // else it is gone
			out[name] = right.String()
		}
	}
	return out
}

// Right returns the right that the caller has in a collection; in one that does not exist the
// same as in one that is not for them.
func (r *Registry) Right(ctx context.Context, collection string) access.Right {
	who := access.From(ctx)
	id, err := r.service.CollectionID(collection)
	if err != nil {
		return who.Everywhere()
	}
	return who.In(id)
}
