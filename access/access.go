// Package access says who may do what.
//
// A caller is a person who has signed in or a program with a key. A caller has a right in
// each collection: a reader asks and sees pages, an editor changes documents, corrections
// and the glossary too, an owner everything of the collection. An administrator owns all
// collections and says who else may come in. Which operation of the API needs which right
// stands in one table, Needs. What callers have no right to is not there for them: they are
// told the same as of a thing that does not exist.
//
// As long as nobody has been let in, the service is open: everybody who reaches it, which
// can only be from the same machine, is an administrator.
package access

import (
	"context"
	"errors"
	"fmt"
	"slices"
)

// ErrDenied says that a caller is known and may see a thing, and yet may not do what was asked.
var ErrDenied = errors.New("not allowed")

// ErrUnknown says that nobody has this key, session, or name and passphrase.
var ErrUnknown = errors.New("not signed in")

// A Right is what an operation needs and a caller has. Each includes those before it.
type Right int

const (
	Anyone        Right = iota // who has not said who they are
	Known                      // who has
	Reader                     // of a collection: asks, sees pages
	Editor                     // changes documents, corrections, glossary, taught answers
	Owner                      // settings, people, measurements, removal
	Administrator              // of the whole service
)

var names = []string{"anyone", "known", "reader", "editor", "owner", "administrator"}

func (r Right) String() string { return names[r] }

// ParseRight reads the right in a collection that a name stands for.
func ParseRight(name string) (Right, error) {
	if i := slices.Index(names, name); i >= int(Reader) && i <= int(Owner) {
		return Right(i), nil
	}
	return Anyone, fmt.Errorf("there is no right %q: choose reader, editor or owner", name)
}

// A Kind tells people from programs.
type Kind string

// Kinds of callers.
const (
	Person  Kind = "person"
	Program Kind = "key"
	Open    Kind = "open"    // somebody on the same machine, before anybody has been let in
	Starter Kind = "starter" // who holds the link for an administrator
)

// A Caller is who asks for something.
type Caller struct {
	ID            string
	Name          string
	Kind          Kind
	Address       string // where the call comes from
	Administrator bool
	Asks          bool             // and nothing else
	Rights        map[string]Right // by the collection's id
}

// In returns the right that a caller has in a collection.
func (c *Caller) In(collection string) Right {
	switch {
	case c == nil:
		return Anyone
	case c.Administrator:
		return Administrator
	}
	return max(c.Rights[collection], Known)
}

// Is tells whether the caller is of a kind; nobody is of none.
func (c *Caller) Is(kind Kind) bool { return c != nil && c.Kind == kind }

// Everywhere returns the right that a caller has outside of collections.
func (c *Caller) Everywhere() Right { return c.In("") }

type key struct{}

// With returns a context that carries the caller.
func With(ctx context.Context, c *Caller) context.Context { return context.WithValue(ctx, key{}, c) }

// From returns the caller that a context carries. What carries none comes from the program
// itself, which may do everything.
func From(ctx context.Context) *Caller {
	if c, ok := ctx.Value(key{}).(*Caller); ok {
		return c
	}
	return &Caller{Name: "jardinet", Administrator: true}
}
