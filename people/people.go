package people

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"strings"
	"time"

	"jardinet/access"
	"jardinet/api"
	"jardinet/service"
	"jardinet/store"
)

// principalName is what people and keys may be called.
var principalName = regexp.MustCompile(`^[\p{L}\p{N}][\p{L}\p{N} ._@-]{0,63}$`)

// add lets a person or a program in. The first has to be an administrator, made by who holds
// the secret that the service printed when it started.
func (r *Registry) add(ctx context.Context, p *store.Principal, rights map[string]string) error {
	if !principalName.MatchString(p.Name) || strings.TrimSpace(p.Name) != p.Name {
		return fmt.Errorf("the name %q: use 1 to 64 letters, digits, blanks, dots, dashes and @, beginning with a letter or digit: %w", p.Name, service.ErrInvalid)
	}
	first := r.IsOpen()
	switch who := access.From(ctx); {
	case first && !who.Is(access.Starter):
		return fmt.Errorf("the first administrator is made with the link that `jardinet serve` printed, so that nobody else gets there before you: %w", access.ErrDenied)
	case who.Is(access.Starter) && !p.Administrator:
		return fmt.Errorf("who is let in with this link must be an administrator: %w", service.ErrInvalid)
	}
	var err error
	if p.Rights, err = r.parseRights(rights); err != nil {
		return err
	}
	if err := r.store.AddPrincipal(ctx, p); err != nil {
		return fmt.Errorf("the name %q: %w", p.Name, err)
	}
	r.letIn()
	return nil
}

func (r *Registry) parseRights(rights map[string]string) (map[string]int, error) {
	out := map[string]int{}
	for name, right := range rights {
		id, err := r.service.CollectionID(name)
		if err != nil {
			return nil, err
		}
		one, err := access.ParseRight(right)
		if err != nil {
			return nil, fmt.Errorf("%w: %w", err, service.ErrInvalid)
		}
		out[id] = int(one)
	}
	return out, nil
}

// AddPerson lets a person in.
func (r *Registry) AddPerson(ctx context.Context, in *api.NewPerson) (*api.Person, error) {
	if err := access.CheckPassphrase(in.Name, in.Passphrase); err != nil {
		return nil, fmt.Errorf("%w: %w", err, service.ErrInvalid)
	}
	p := &store.Principal{Name: in.Name, Kind: string(access.Person), Secret: []byte(access.HashPassphrase(in.Passphrase)), Administrator: in.Administrator}
	if err := r.add(ctx, p, in.Rights); err != nil {
		return nil, err
	}
	return r.person(p), nil
}

func (r *Registry) person(p *store.Principal) *api.Person {
	return &api.Person{
		Name: p.Name, Administrator: p.Administrator, Elsewhere: p.Subject != "", Created: p.Created, Used: given(p.Used), Rights: r.byName(caller(p).Rights),
	}
}

func given(t time.Time) *time.Time {
	if t.IsZero() {
		return nil
	}
	return &t
}

// People returns all who may sign in, by name.
func (r *Registry) People(ctx context.Context) ([]api.Person, error) {
	all, err := r.store.Principals(ctx, string(access.Person))
	if err != nil {
		return nil, err
	}
	out := []api.Person{}
	for i := range all {
		out = append(out, *r.person(&all[i]))
	}
	return out, nil
}

// principal returns the person or the key of that name.
func (r *Registry) principal(ctx context.Context, kind access.Kind, name string) (*store.Principal, error) {
	p, err := r.store.PrincipalNamed(ctx, name)
	if err == nil && p.Kind != string(kind) {
		err = service.ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("%s %q: %w", kind, name, err)
	}
	return p, nil
}

// ChangePerson changes a person's passphrase, or whether they are an administrator.
func (r *Registry) ChangePerson(ctx context.Context, name string, change *api.PersonChange) (*api.Person, error) {
	p, err := r.principal(ctx, access.Person, name)
	if err != nil {
		return nil, err
	}
	if change.Administrator != nil && !*change.Administrator {
		if err := r.notTheLast(ctx, p); err != nil {
			return nil, err
		}
	}
	if change.Passphrase != nil {
		if err := r.setPassphrase(ctx, p, *change.Passphrase); err != nil {
			return nil, err
		}
	}
	if change.Administrator != nil {
		if err := r.store.SetAdministrator(ctx, p.ID, *change.Administrator); err != nil {
			return nil, err
		}
		p.Administrator = *change.Administrator
	}
	return r.person(p), nil
}

func (r *Registry) setPassphrase(ctx context.Context, p *store.Principal, passphrase string) error {
	if p.Subject != "" {
		return fmt.Errorf("%s signs in elsewhere and has no passphrase here: %w", p.Name, service.ErrInvalid)
	}
	if err := access.CheckPassphrase(p.Name, passphrase); err != nil {
		return fmt.Errorf("%w: %w", err, service.ErrInvalid)
	}
	return r.store.SetSecret(ctx, p.ID, []byte(access.HashPassphrase(passphrase)))
}

// SetPassphrase replaces the caller's own passphrase and ends all their sessions.
func (r *Registry) SetPassphrase(ctx context.Context, current, next string) error {
	who := access.From(ctx)
	if !who.Is(access.Person) {
		return fmt.Errorf("only people have a passphrase: %w", service.ErrInvalid)
	}
	p, err := r.principal(ctx, access.Person, who.Name)
	if err != nil {
		return err
	}
	good, err := r.isPassphrase(ctx, string(p.Secret), current)
	if err != nil {
		return err
	}
	if !good {
		return fmt.Errorf("the passphrase used until now is another one: %w", service.ErrInvalid)
	}
	return r.setPassphrase(ctx, p, next)
}

// notTheLast refuses to lose the last administrator, after whom nobody could let anybody in.
func (r *Registry) notTheLast(ctx context.Context, p *store.Principal) error {
	if !p.Administrator {
		return nil
	}
	for _, kind := range []access.Kind{access.Person, access.Program} {
		all, err := r.store.Principals(ctx, string(kind))
		if err != nil {
			return err
		}
		for _, other := range all {
			if other.Administrator && other.ID != p.ID && (other.Expires.IsZero() || kind == access.Person) {
				return nil
			}
		}
	}
	return fmt.Errorf("%s is the last administrator; make another one first: %w", p.Name, service.ErrInvalid)
}

// RemovePerson shuts a person out at once. What they have asked is removed too.
func (r *Registry) RemovePerson(ctx context.Context, name string) error {
	return r.shutOut(ctx, access.Person, name)
}

func (r *Registry) shutOut(ctx context.Context, kind access.Kind, name string) error {
	p, err := r.principal(ctx, kind, name)
	if err != nil {
		return err
	}
	if err := r.notTheLast(ctx, p); err != nil {
		return err
	}
	return r.store.RemovePrincipal(ctx, p.ID)
}

// CreateKey makes a key for a program. Only now its secret is known.
func (r *Registry) CreateKey(ctx context.Context, in *api.NewKey) (*api.Key, error) {
	secret := access.NewKey()
	p := &store.Principal{Name: in.Name, Kind: string(access.Program), Secret: access.Hash(secret), Administrator: in.Administrator, Asks: in.Asks}
	if in.Administrator && in.Asks {
		return nil, fmt.Errorf("an administrator's key may do more than ask: %w", service.ErrInvalid)
	}
	if in.Expires != nil {
		if in.Expires.Before(time.Now()) {
			return nil, fmt.Errorf("the key would have expired on %s: %w", in.Expires.Format(time.DateOnly), service.ErrInvalid)
		}
		p.Expires = *in.Expires
	}
	if !in.Administrator && len(in.Rights) == 0 {
		return nil, fmt.Errorf("a key that opens nothing: name a right in a collection, or make it an administrator's: %w", service.ErrInvalid)
	}
	if err := r.add(ctx, p, in.Rights); err != nil {
		return nil, err
	}
	out := r.keyOf(p)
	out.Secret = secret
	return out, nil
}

func (r *Registry) keyOf(p *store.Principal) *api.Key {
	return &api.Key{Name: p.Name, Administrator: p.Administrator, Asks: p.Asks, Created: p.Created, Expires: given(p.Expires), Used: given(p.Used), Rights: r.byName(caller(p).Rights)}
}

// Keys returns all keys by name, without their secrets.
func (r *Registry) Keys(ctx context.Context) ([]api.Key, error) {
	all, err := r.store.Principals(ctx, string(access.Program))
	if err != nil {
		return nil, err
	}
	out := []api.Key{}
	for i := range all {
		out = append(out, *r.keyOf(&all[i]))
	}
	return out, nil
}

// RevokeKey makes a key useless at once.
func (r *Registry) RevokeKey(ctx context.Context, name string) error {
	return r.shutOut(ctx, access.Program, name)
}

// Rights returns who has which right in a collection, but for administrators.
func (r *Registry) Rights(ctx context.Context, collection string) ([]api.Holder, error) {
	id, err := r.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	out := []api.Holder{}
	for _, kind := range []access.Kind{access.Person, access.Program} {
		all, err := r.store.Principals(ctx, string(kind))
		if err != nil {
			return nil, err
		}
		for _, p := range all {
			if right := p.Rights[id]; right > 0 {
				out = append(out, api.Holder{Name: p.Name, Kind: p.Kind, Right: access.Right(right).String()})
			}
		}
	}
	return out, nil
}

// SetRight gives a person or a key a right in a collection; an empty right takes it away.
func (r *Registry) SetRight(ctx context.Context, collection, name, right string) error {
	id, err := r.service.CollectionID(collection)
	if err != nil {
		return err
	}
	given := access.Anyone
	if right != "" {
		if given, err = access.ParseRight(right); err != nil {
			return fmt.Errorf("%w: %w", err, service.ErrInvalid)
		}
	}
	p, err := r.store.PrincipalNamed(ctx, name)
	if errors.Is(err, service.ErrNotFound) {
		return fmt.Errorf("nobody is called %q; an administrator lets people in: %w", name, service.ErrNotFound)
	}
	if err != nil {
		return err
	}
	return r.store.SetRight(ctx, p.ID, id, int(given))
}
