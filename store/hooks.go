package store

import (
	"context"
	"fmt"
	"strings"
	"time"
)

// A Hook is a program that is told what happens in a collection.
type Hook struct {
	Collection string // id
	Name       string // of the address, which the operator has given
	Events     []string
	Problem    string // of the last delivery, empty if it arrived
	Waiting    int    // deliveries that are still to be made
}

// SetHook has a program told of some events, and of no others. Without an event it is told nothing
// more, not even what is still to be delivered.
func (s *Store) SetHook(ctx context.Context, collection, name string, events []string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		if len(events) == 0 {
			if _, err := tx.ExecContext(ctx, "DELETE FROM deliveries WHERE collection = ? AND hook = ?", collection, name); err != nil {
				return fmt.Errorf("store: hooks: %w", err)
			}
			return one(tx.ExecContext(ctx, "DELETE FROM hooks WHERE collection = ? AND name = ?", collection, name))
		}
		_, err := tx.ExecContext(ctx, "INSERT INTO hooks (collection, name, events) VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET events = excluded.events",
			collection, name, ","+strings.Join(events, ",")+",")
		return err
	})
}

// Hooks returns the programs that are told what happens in a collection, by name.
func (s *Store) Hooks(ctx context.Context, collection string) ([]Hook, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT name, events, problem, (SELECT count(*) FROM deliveries d WHERE d.collection = h.collection AND d.hook = h.name)
		FROM hooks h WHERE collection = ? ORDER BY name`, collection)
	if err != nil {
		return nil, fmt.Errorf("store: hooks: %w", err)
	}
	defer rows.Close()
	var out []Hook
	for rows.Next() {
		h := Hook{Collection: collection}
		var events string
		if err := rows.Scan(&h.Name, &events, &h.Problem, &h.Waiting); err != nil {
			return nil, fmt.Errorf("store: hooks: %w", err)
		}
		h.Events = strings.Split(strings.Trim(events, ","), ",")
		out = append(out, h)
	}
	return out, rows.Err()
}

// A Delivery is something that a program is still to be told.
type Delivery struct {
	Number     int64
	Collection string // id
	Hook       string
	ID         string // the same each time that it is tried
	Body       string
	Tries      int
	Due        time.Time
}

// AddDelivery has a program told something, once.
func (s *Store) AddDelivery(ctx context.Context, d *Delivery) error {
	_, err := s.exec(ctx, "INSERT INTO deliveries (collection, hook, id, body) VALUES (?, ?, ?, ?)", d.Collection, d.Hook, d.ID, d.Body)
	if err != nil {
		return fmt.Errorf("store: deliveries: %w", err)
	}
	return nil
}

// Deliveries returns the next thing that each program is to be told, of each collection.
func (s *Store) Deliveries(ctx context.Context) ([]Delivery, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT number, collection, hook, id, body, tries, due FROM deliveries
		WHERE number IN (SELECT min(number) FROM deliveries GROUP BY collection, hook) ORDER BY number`)
	if err != nil {
		return nil, fmt.Errorf("store: deliveries: %w", err)
	}
	defer rows.Close()
	var out []Delivery
	for rows.Next() {
		var d Delivery
		var due string
		if err := rows.Scan(&d.Number, &d.Collection, &d.Hook, &d.ID, &d.Body, &d.Tries, &due); err != nil {
			return nil, fmt.Errorf("store: deliveries: %w", err)
		}
		d.Due, _ = time.Parse(timeFormat, due)
		out = append(out, d)
	}
	return out, rows.Err()
}

// Delivered ends a delivery: it arrived, or, if there was a problem, is given up.
func (s *Store) Delivered(ctx context.Context, d *Delivery, problem string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM deliveries WHERE number = ?", d.Number); err != nil {
			return fmt.Errorf("store: deliveries: %w", err)
		}
		_, err := tx.ExecContext(ctx, "UPDATE hooks SET problem = ? WHERE collection = ? AND name = ?", problem, d.Collection, d.Hook)
		return err
	})
}

// Later puts a delivery off that did not arrive.
func (s *Store) Later(ctx context.Context, d *Delivery, due time.Time, problem string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		if _, err := tx.ExecContext(ctx, "UPDATE deliveries SET tries = tries + 1, due = ? WHERE number = ?", stamp(due), d.Number); err != nil {
			return fmt.Errorf("store: deliveries: %w", err)
		}
		_, err := tx.ExecContext(ctx, "UPDATE hooks SET problem = ? WHERE collection = ? AND name = ?", problem, d.Collection, d.Hook)
		return err
	})
}
