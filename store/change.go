package store

import (
	"bytes"
	"context"
	"database/sql"
	"database/sql/driver"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/klauspost/compress/s2"
)

// A Change is what one transaction did, so that another store that was equal before is equal
// again once it has done the same. Statements are written so that they do the same everywhere:
// no moment, nothing random and no order that is left open is in them, only in what is bound to
// them.
type Change struct {
	Schema  int      // of the records that it was made on
	Steps   []Step   //
	Dropped []string // hashes of the files that no document has any more
}

// Schema is the version of the records that this program makes.
var Schema = len(schema)

// A Step is a statement with what was bound to it, and how many rows it changed.
type Step struct {
	SQL  string
	Args []any // int64, float64, bool, string, []byte or nil
	Rows int64
}

// ErrDiverged says that a change did something else here than where it was made: these records
// are not the same any more.
var ErrDiverged = errors.New("these records differ from those of the other hosts")

// A Tx is a transaction that remembers what it did.
type Tx struct {
	*sql.Tx
	change *Change // nil if nobody wants to know
}

// ExecContext is that of sql.Tx.
func (t *Tx) ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error) {
	result, err := t.Tx.ExecContext(t.whole(ctx), query, args...)
	if err == nil {
		err = t.note(query, args, result)
	}
	return result, err
}

// QueryContext is that of sql.Tx.
func (t *Tx) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	return t.Tx.QueryContext(t.whole(ctx), query, args...)
}

// QueryRowContext is that of sql.Tx.
func (t *Tx) QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row {
	return t.Tx.QueryRowContext(t.whole(ctx), query, args...)
}

// whole returns a context that does not end in the middle of a statement if others are in the same
// transaction, which SQLite would undo with it.
func (t *Tx) whole(ctx context.Context) context.Context {
	if t.change == nil {
		return ctx
	}
	return context.WithoutCancel(ctx)
}

func (t *Tx) note(query string, args []any, result sql.Result) error {
	if t.change == nil {
		return nil
	}
	rows, err := result.RowsAffected()
	if err != nil {
		return err
	}
	step := Step{SQL: query, Rows: rows}
	for _, arg := range args {
		value, err := driver.DefaultParameterConverter.ConvertValue(arg)
		if err != nil {
			return fmt.Errorf("store: %w", err)
		}
		if b, ok := value.([]byte); ok {
			value = bytes.Clone(b) // the caller may use it again
		}
		step.Args = append(step.Args, value)
	}
	t.change.Steps = append(t.change.Steps, step)
	return nil
}

// A Stmt is a prepared statement of a Tx.
type Stmt struct {
	*sql.Stmt
	tx    *Tx
	query string
}

// PrepareContext is that of sql.Tx.
func (t *Tx) PrepareContext(ctx context.Context, query string) (*Stmt, error) {
	stmt, err := t.Tx.PrepareContext(t.whole(ctx), query)
	if err != nil {
		return nil, err
	}
	return &Stmt{stmt, t, query}, nil
}

// ExecContext is that of sql.Stmt.
func (s *Stmt) ExecContext(ctx context.Context, args ...any) (sql.Result, error) {
	result, err := s.Stmt.ExecContext(s.tx.whole(ctx), args...)
	if err == nil {
		err = s.tx.note(s.query, args, result)
	}
	return result, err
}

// changeFormat is the version of how changes are written down. Versions back to oldestFormat are
// read, so that hosts can be upgraded one after another.
const (
	changeFormat = 1
	oldestFormat = 1
)

// written is a change as JSON; bytes stand behind it, one after another, and are named by how
// many they are.
type written struct {
	Format  int           `json:"format"`
	Schema  int           `json:"schema"`
	Steps   []writtenStep `json:"steps"`
	Dropped []string      `json:"dropped,omitempty"`
}

type writtenStep struct {
	SQL  string         `json:"sql"`
	Args []writtenValue `json:"args,omitempty"`
	Rows int64          `json:"rows"`
}

type writtenValue struct {
	Int   *string `json:"i,omitempty"` // in digits: JSON's numbers are too short
	Real  *string `json:"r,omitempty"` // its bits
	Bool  *bool   `json:"b,omitempty"`
	Text  *string `json:"t,omitempty"`
	Bytes *int    `json:"n,omitempty"` // how many
}

// Encode writes the change down, compressed.
func (c *Change) Encode() ([]byte, error) {
	w := written{Format: changeFormat, Schema: c.Schema, Dropped: c.Dropped}
	var raw []byte
	for _, s := range c.Steps {
		step := writtenStep{SQL: s.SQL, Rows: s.Rows}
		for _, arg := range s.Args {
			var v writtenValue
			switch arg := arg.(type) {
			case nil:
			case int64:
				v.Int = new(strconv.FormatInt(arg, 10))
			case float64:
				v.Real = new(strconv.FormatUint(math.Float64bits(arg), 16))
			case bool:
				v.Bool = &arg
			case string:
				v.Text = &arg
			case []byte:
				if arg != nil {
					v.Bytes, raw = new(len(arg)), append(raw, arg...)
				}
			default:
				return nil, fmt.Errorf("store: a change binds a %T, which cannot be written down", arg)
			}
			step.Args = append(step.Args, v)
		}
		w.Steps = append(w.Steps, step)
	}
	head, err := json.Marshal(w)
	if err != nil {
		return nil, fmt.Errorf("store: change: %w", err)
	}
	out := binary.LittleEndian.AppendUint32(nil, uint32(len(head)))
	return s2.Encode(nil, append(append(out, head...), raw...)), nil
}

// DecodeChange reads what Encode wrote.
func DecodeChange(data []byte) (*Change, error) {
	plain, err := s2.Decode(nil, data)
	if err != nil {
		return nil, fmt.Errorf("store: a change is damaged: %w", err)
	}
	if len(plain) < 4 || int(binary.LittleEndian.Uint32(plain)) > len(plain)-4 {
		return nil, errors.New("store: a change is cut short")
	}
	head := plain[4 : 4+binary.LittleEndian.Uint32(plain)]
	raw := plain[4+len(head):]
	var w written
	if err := json.Unmarshal(head, &w); err != nil {
		return nil, fmt.Errorf("store: a change is damaged: %w", err)
	}
	if w.Format < oldestFormat || w.Format > changeFormat {
		return nil, fmt.Errorf("store: a change is written in format %d, and this program reads %d to %d; upgrade this host", w.Format, oldestFormat, changeFormat)
	}
	c := &Change{Schema: w.Schema, Dropped: w.Dropped}
	for _, s := range w.Steps {
		step := Step{SQL: s.SQL, Rows: s.Rows}
		for _, v := range s.Args {
			arg, rest, err := v.value(raw)
			if err != nil {
				return nil, fmt.Errorf("store: a change is damaged: %w", err)
			}
			step.Args, raw = append(step.Args, arg), rest
		}
		c.Steps = append(c.Steps, step)
	}
	return c, nil
}

// value returns what was written, and what is left of the bytes behind.
func (v *writtenValue) value(raw []byte) (any, []byte, error) {
	switch {
	case v.Int != nil:
		n, err := strconv.ParseInt(*v.Int, 10, 64)
		return n, raw, err
	case v.Real != nil:
		bits, err := strconv.ParseUint(*v.Real, 16, 64)
		return math.Float64frombits(bits), raw, err
	case v.Bool != nil:
		return *v.Bool, raw, nil
	case v.Text != nil:
		return *v.Text, raw, nil
	case v.Bytes != nil:
		if *v.Bytes < 0 || *v.Bytes > len(raw) {
			return nil, raw, errors.New("bytes are missing")
		}
		return raw[:*v.Bytes:*v.Bytes], raw[*v.Bytes:], nil
	}
	return nil, raw, nil
}

// Documents returns the ids of the documents that a change is about.
func (c *Change) Documents() []string {
	seen := map[string]bool{}
	var out []string
	for _, step := range c.Steps {
		at := -1
		switch {
		case !strings.Contains(step.SQL, " documents "):
		case strings.HasPrefix(step.SQL, "INSERT INTO documents (id,"):
			at = 0
		case strings.HasSuffix(step.SQL, "WHERE id = ?"):
			at = len(step.Args) - 1
		case strings.Contains(step.SQL, "WHERE id = ? AND revision = ?"):
			at = len(step.Args) - 2
		}
		if at < 0 {
			continue
		}
		if id, ok := step.Args[at].(string); ok && !seen[id] {
			seen[id] = true
			out = append(out, id)
		}
	}
	return out
}

// Touches tells whether a change writes into a table itself.
func (c *Change) Touches(table string) bool {
	return slices.ContainsFunc(c.Steps, func(s Step) bool {
		for _, verb := range []string{"UPDATE ", "DELETE FROM ", "INSERT INTO ", "INSERT OR REPLACE INTO ", "INSERT OR IGNORE INTO "} {
			if rest, ok := strings.CutPrefix(s.SQL, verb); ok {
				name, _, _ := strings.Cut(rest, " ")
				return name == table
			}
		}
		return false
	})
}
