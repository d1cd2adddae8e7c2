package service

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"time"

	"jardinet/access"
	"jardinet/api"
	"jardinet/store"
)

// How long a session lasts, and without being used.
const (
	sessionLasts = 7 * 24 * time.Hour
	sessionIdle  = 12 * time.Hour
)

// useNoted is how exactly it is known when a key or a session was last used.
const useNoted = time.Minute

// A callers knows who calls.
type callers struct {
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

func (s *Service) openCallers(ctx context.Context) error {
	some, err := s.store.HasPrincipals(ctx)
	if err != nil {
		return err
	}
	s.callers = &callers{open: !some, used: map[string]time.Time{}, failed: map[string]*failures{}, hashing: make(chan struct{}, 2)}
	if s.callers.open || s.NewAdministrator {
		s.callers.starter = access.NewToken()
	}
	return nil
}

// Starter returns the secret with which the first administrator is made, or another one; it is
// empty once that has been done.
func (s *Service) Starter() string {
	s.callers.mu.Lock()
	defer s.callers.mu.Unlock()
	return s.callers.starter
}

// IsOpen tells whether nobody has been let in yet, so that everybody on this machine may do everything.
func (s *Service) IsOpen() bool {
	s.callers.mu.Lock()
	defer s.callers.mu.Unlock()
	return s.callers.open
}

// letIn closes the service to those who have not signed in.
func (c *callers) letIn() {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.open, c.starter = false, ""
}

// Caller returns who calls with a key, or in a session, or with neither. A caller without a
// right to anything is nil; access.ErrUnknown says that what was given is no longer good.
func (s *Service) Caller(ctx context.Context, key, session string) (*access.Caller, error) {
	switch starter := s.Starter(); {
	case key != "" && starter != "" && access.Same(key, starter):
		return &access.Caller{Name: "first administrator", Kind: access.Starter, Administrator: true}, nil
	case s.IsOpen() && key == "":
		return &access.Caller{Kind: access.Open, Administrator: true}, nil
	case key != "":
		return s.callerWithKey(ctx, key)
	case session != "":
		return s.callerInSession(ctx, session)
	}
	return nil, nil
}

func (s *Service) callerWithKey(ctx context.Context, key string) (*access.Caller, error) {
	p, err := s.store.PrincipalByKey(ctx, access.Hash(key))
	if errors.Is(err, ErrNotFound) {
		return nil, fmt.Errorf("this key is not known; it may have been revoked: %w", access.ErrUnknown)
	}
	if err != nil {
		return nil, err
	}
	if !p.Expires.IsZero() && time.Now().After(p.Expires) {
		return nil, fmt.Errorf("the key %s expired on %s; ask an administrator for a new one: %w", p.Name, p.Expires.Format(time.DateOnly), access.ErrUnknown)
	}
	s.noteUse(ctx, p, nil)
	return caller(p), nil
}

func (s *Service) callerInSession(ctx context.Context, session string) (*access.Caller, error) {
	hash := access.Hash(session)
	p, err := s.store.PrincipalBySession(ctx, hash, time.Now().Add(-sessionLasts), time.Now().Add(-sessionIdle))
	if errors.Is(err, ErrNotFound) {
		return nil, fmt.Errorf("the session has ended; sign in again: %w", access.ErrUnknown)
	}
	if err != nil {
		return nil, err
	}
	s.noteUse(ctx, p, hash)
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
func (s *Service) noteUse(ctx context.Context, p *store.Principal, session []byte) {
	name := p.ID + string(session)
	s.callers.mu.Lock()
	fresh := time.Since(s.callers.used[name]) < useNoted
	if !fresh {
		s.callers.used[name] = time.Now()
	}
	s.callers.mu.Unlock()
	if fresh {
		return
	}
	s.Aside(ctx, func(ctx context.Context) {
		if err := s.store.Use(ctx, p.ID, session, time.Now().Add(-sessionLasts), time.Now().Add(-sessionIdle)); err != nil {
			s.Log.Warn("the use of a key or session could not be noted", "error", err) // which is no reason to refuse
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

// A Wait says that a caller asks too much too soon.
type Wait struct {
	For    time.Duration
	Reason string
}

func (w *Wait) Error() string { return w.Reason }

// SignIn begins a session of the person with this name and passphrase.
func (s *Service) SignIn(ctx context.Context, name, passphrase, address string) (session string, err error) {
	keys := []string{"name " + name, "from " + address}
	if left := s.callers.mustWait(keys); left > 0 {
		return "", &Wait{left, fmt.Sprintf("too many vain attempts to sign in; try again in %s", left.Round(time.Second))}
	}
	p, err := s.store.PrincipalNamed(ctx, name)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return "", err
	}
	kept := ""
	if p != nil && p.Kind == string(access.Person) {
		kept = string(p.Secret)
	}
	good, err := s.isPassphrase(ctx, kept, passphrase)
	if err != nil {
		return "", err
	}
	if !good {
		s.callers.fail(keys)
		s.spread(attempts{Vain: keys})
		return "", fmt.Errorf("there is no such name with this passphrase: %w", access.ErrUnknown)
	}
	s.callers.succeed(keys[0])
	s.spread(attempts{Succeeded: keys[0]})
	return s.begin(ctx, p)
}

// SignInAs begins a session of a person whom a provider vouches for. One who comes for the
// first time is let in under that name, with no right to anything yet.
func (s *Service) SignInAs(ctx context.Context, subject, name string) (session string, err error) {
	p, err := s.store.PrincipalBySubject(ctx, subject)
	if errors.Is(err, ErrNotFound) {
		p, err = s.welcome(ctx, subject, name)
	}
	if err != nil {
		return "", err
	}
	return s.begin(ctx, p)
}

func (s *Service) welcome(ctx context.Context, subject, name string) (*store.Principal, error) {
	if s.IsOpen() {
		return nil, fmt.Errorf("the first administrator has to be made before others can sign in: %w", access.ErrDenied)
	}
	p := &store.Principal{Name: name, Kind: string(access.Person), Secret: []byte{}, Subject: subject}
	err := s.add(ctx, p, nil)
	if errors.Is(err, ErrExists) {
		err = fmt.Errorf("somebody else is called %q here already; an administrator has to remove that person first: %w", name, access.ErrDenied)
	}
	return p, err
}

func (s *Service) begin(ctx context.Context, p *store.Principal) (session string, err error) {
	session = access.NewToken()
	return session, s.store.AddSession(ctx, access.Hash(session), p.ID)
}

// isPassphrase tries a passphrase, a few at a time.
func (s *Service) isPassphrase(ctx context.Context, kept, passphrase string) (bool, error) {
	select {
	case s.callers.hashing <- struct{}{}:
		defer func() { <-s.callers.hashing }()
		return access.IsPassphrase(kept, passphrase), nil
	case <-ctx.Done():
		return false, ctx.Err()
	}
}

func (c *callers) mustWait(keys []string) (left time.Duration) {
	c.mu.Lock()
	defer c.mu.Unlock()
	for _, k := range keys {
		if f := c.failed[k]; f != nil && f.count >= patience {
			pause := min(longest, wait<<min(f.count-patience, 10))
			left = max(left, pause-time.Since(f.last))
		}
	}
	return left
}

// remembered is how many names and addresses of vain attempts are known at a time.
const remembered = 10_000

func (c *callers) fail(keys []string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	for k, f := range c.failed {
		if len(c.failed) > remembered || time.Since(f.last) > 2*longest {
			delete(c.failed, k)
		}
	}
	for _, k := range keys {
		if c.failed[k] == nil {
			c.failed[k] = &failures{}
		}
		c.failed[k].count++
		c.failed[k].last = time.Now()
	}
}

func (c *callers) succeed(key string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	delete(c.failed, key)
}

// SignOut ends a session.
func (s *Service) SignOut(ctx context.Context, session string) error {
	return s.store.RemoveSession(ctx, access.Hash(session))
}

// Session describes the caller.
func (s *Service) Session(ctx context.Context) *api.Session {
	out := &api.Session{Rights: map[string]string{}}
	c := access.From(ctx)
	if c == nil {
		return out
	}
	out.Name, out.Kind, out.Administrator = c.Name, string(c.Kind), c.Administrator
	out.Rights = s.byName(c.Rights)
	return out
}

// byName names the collections of rights.
func (s *Service) byName(rights map[string]access.Right) map[string]string {
	out := map[string]string{}
	s.mu.Lock()
	defer s.mu.Unlock()
	for id, right := range rights {
		if c := s.collections[id]; c != nil {
			out[c.Name] = right.String()
		}
	}
	return out
}

// Right returns the right that the caller has in a collection; in one that does not exist the
// same as in one that is not for them.
func (s *Service) Right(ctx context.Context, collection string) access.Right {
	who := access.From(ctx)
	c, err := s.named(collection)
	if err != nil {
		return who.Everywhere()
	}
	return who.In(c.ID)
}
