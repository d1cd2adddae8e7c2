package store

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"
)

// A Principal is a person, or a program with a key.
type Principal struct {
	ID            string
	Name          string
	Kind          string
	Secret        []byte // hash of the key, or of the passphrase; empty for who signs in elsewhere
	Subject       string // issuer and subject of one who signs in elsewhere
	Administrator bool
	Asks          bool // and nothing else
	Created       time.Time
	Expires       time.Time      // zero for never
	Used          time.Time      // last; zero for never
	Rights        map[string]int // by the collection's id
}

// AddPrincipal adds one with its rights. ErrExists says that the name is taken.
func (s *Store) AddPrincipal(ctx context.Context, p *Principal) error {
	if p.ID == "" {
		p.ID = NewID()
	}
	p.Created = time.Now().UTC().Truncate(time.Millisecond)
	err := s.inTx(ctx, func(tx *Tx) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO principals (id, name, kind, secret, subject, administrator, asks, created, expires) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
			p.ID, p.Name, p.Kind, p.Secret, p.Subject, p.Administrator, p.Asks, stamp(p.Created), stamp(p.Expires))
		if err != nil {
			return err
		}
		for collection, right := range p.Rights {
			if _, err := tx.ExecContext(ctx, "INSERT INTO rights (principal, collection, holds) VALUES (?, ?, ?)", p.ID, collection, right); err != nil {
				return err
			}
		}
		return nil
	})
	return unique(err, "add "+p.Name)
}

// unique turns a broken uniqueness into ErrExists.
func unique(err error, what string) error {
	switch {
	case err == nil:
		return nil
	case strings.Contains(err.Error(), "UNIQUE"):
		return ErrExists
	}
	return fmt.Errorf("store: %s: %w", what, err)
}

// stamp writes a time, the zero time as nothing.
func stamp(t time.Time) string {
	if t.IsZero() {
		return ""
	}
	return t.UTC().Format(timeFormat)
}

// HasPrincipals tells whether anybody has been let in.
func (s *Store) HasPrincipals(ctx context.Context) (bool, error) {
	var n int
	if err := s.db.QueryRowContext(ctx, "SELECT count(*) FROM (SELECT 1 FROM principals LIMIT 1)").Scan(&n); err != nil {
		return false, fmt.Errorf("store: principals: %w", err)
	}
	return n > 0, nil
}

// Principals returns all of a kind by name.
func (s *Store) Principals(ctx context.Context, kind string) ([]Principal, error) {
	return s.principals(ctx, "WHERE kind = ? ORDER BY name", kind)
}

// PrincipalNamed returns the one of that name, whatever the case of its letters.
func (s *Store) PrincipalNamed(ctx context.Context, name string) (*Principal, error) {
	return onlyOne(s.principals(ctx, "WHERE name = ?", name))
}

// PrincipalByKey returns the program with this hash of a key.
func (s *Store) PrincipalByKey(ctx context.Context, hash []byte) (*Principal, error) {
	return onlyOne(s.principals(ctx, "WHERE kind = 'key' AND secret = ?", hash))
}

// PrincipalBySubject returns the person who signs in elsewhere as this.
func (s *Store) PrincipalBySubject(ctx context.Context, subject string) (*Principal, error) {
	return onlyOne(s.principals(ctx, "WHERE subject = ? AND subject != ''", subject))
}

// PrincipalBySession returns the person of a session that was begun and last used after these times.
func (s *Store) PrincipalBySession(ctx context.Context, hash []byte, begun, used time.Time) (*Principal, error) {
	return onlyOne(s.principals(ctx, "WHERE id = (SELECT person FROM sessions WHERE hash = ? AND created > ? AND used > ?)", hash, stamp(begun), stamp(used)))
}

func onlyOne(all []Principal, err error) (*Principal, error) {
	if err != nil {
		return nil, err
	}
	if len(all) == 0 {
		return nil, ErrNotFound
	}
	return &all[0], nil
}

func (s *Store) principals(ctx context.Context, where string, args ...any) ([]Principal, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT id, name, kind, secret, subject, administrator, asks, created, expires, used FROM principals "+where, args...)
	if err != nil {
		return nil, fmt.Errorf("store: principals: %w", err)
	}
	defer rows.Close()
	var out []Principal
	for rows.Next() {
		p := Principal{Rights: map[string]int{}}
		var created, expires, used string
		if err := rows.Scan(&p.ID, &p.Name, &p.Kind, &p.Secret, &p.Subject, &p.Administrator, &p.Asks, &created, &expires, &used); err != nil {
			return nil, fmt.Errorf("store: principals: %w", err)
		}
		p.Created, _ = time.Parse(timeFormat, created)
		p.Expires, _ = time.Parse(timeFormat, expires)
		p.Used, _ = time.Parse(timeFormat, used)
		out = append(out, p)
	}
	if err := errors.Join(rows.Err(), rows.Close()); err != nil {
		return nil, fmt.Errorf("store: principals: %w", err)
	}
	return out, s.addRights(ctx, out)
}

func (s *Store) addRights(ctx context.Context, all []Principal) error {
	byID := map[string]*Principal{}
	for i := range all {
		byID[all[i].ID] = &all[i]
	}
	query, args := "SELECT principal, collection, holds FROM rights", []any{}
	if len(all) == 1 {
		query, args = query+" WHERE principal = ?", []any{all[0].ID}
	}
	rows, err := s.db.QueryContext(ctx, query, args...)
	if err != nil {
		return fmt.Errorf("store: rights: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		var principal, collection string
		var right int
		if err := rows.Scan(&principal, &collection, &right); err != nil {
			return fmt.Errorf("store: rights: %w", err)
		}
		if p := byID[principal]; p != nil {
			p.Rights[collection] = right
		}
	}
	return rows.Err()
}

// SetSecret replaces the hash of a passphrase and ends the person's sessions.
func (s *Store) SetSecret(ctx context.Context, id string, secret []byte) error {
	return s.inTx(ctx, func(tx *Tx) error {
		if err := one(tx.ExecContext(ctx, "UPDATE principals SET secret = ? WHERE id = ?", secret, id)); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "DELETE FROM sessions WHERE person = ?", id)
		return err
	})
}

// SetAdministrator makes somebody an administrator, or no longer.
func (s *Store) SetAdministrator(ctx context.Context, id string, administrator bool) error {
	return one(s.exec(ctx, "UPDATE principals SET administrator = ? WHERE id = ?", administrator, id))
}

// RemovePrincipal removes one with its rights, sessions and conversations.
func (s *Store) RemovePrincipal(ctx context.Context, id string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM conversations WHERE owner = ?", id); err != nil {
			return fmt.Errorf("store: remove conversations: %w", err)
		}
		return one(tx.ExecContext(ctx, "DELETE FROM principals WHERE id = ?", id))
	})
}

// SetRight gives a principal a right in a collection; 0 takes it away.
func (s *Store) SetRight(ctx context.Context, principal, collection string, right int) error {
	query, args := "INSERT OR REPLACE INTO rights (principal, collection, holds) VALUES (?, ?, ?)", []any{principal, collection, right}
	if right == 0 {
		query, args = "DELETE FROM rights WHERE principal = ? AND collection = ?", args[:2]
	}
	if _, err := s.exec(ctx, query, args...); err != nil {
		return fmt.Errorf("store: rights: %w", err)
	}
	return nil
}

// AddSession begins a session of a person.
func (s *Store) AddSession(ctx context.Context, hash []byte, person string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		if _, err := tx.ExecContext(ctx, "INSERT INTO sessions (hash, person, created, used) VALUES (?, ?, ?, ?)", hash, person, now(), now()); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "UPDATE principals SET used = ? WHERE id = ?", now(), person)
		return err
	})
}

// RemoveSession ends a session.
func (s *Store) RemoveSession(ctx context.Context, hash []byte) error {
	_, err := s.exec(ctx, "DELETE FROM sessions WHERE hash = ?", hash)
	return err
}

// Use records that a key, or a session, was used just now. Sessions begun before a time, or
// not used since another, are forgotten.
func (s *Store) Use(ctx context.Context, principal string, session []byte, begun, used time.Time) error {
	return s.inTx(ctx, func(tx *Tx) error {
		if _, err := tx.ExecContext(ctx, "UPDATE principals SET used = ? WHERE id = ?", now(), principal); err != nil {
			return err
		}
		if session == nil {
			return nil
		}
		if _, err := tx.ExecContext(ctx, "UPDATE sessions SET used = ? WHERE hash = ?", now(), session); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "DELETE FROM sessions WHERE created <= ? OR used <= ?", stamp(begun), stamp(used))
		return err
	})
}
