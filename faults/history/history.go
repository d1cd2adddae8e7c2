// Package history tells whether what clients of several hosts saw is what they may see.
//
// A register is written and read by many clients at once. What was acknowledged holds everywhere: a read
// that begins after a write was acknowledged returns that write's value, or one that was written at
// the same time or later. What is not acknowledged yet may be seen on one host and not yet on another
// (a regular register: Lamport, 1986; with many writers: Shao, Welch, Pierce and Lee, 2011).
//
// Where nothing is being written, all have to agree more strictly: there has to be one order of all
// writes, each at some moment between its beginning and its end, in which every such read returns what
// was written last (linearizability: Herlihy and Wing, 1990). The order is looked for by trying the
// operations that can come next, and remembering what was tried in vain (Wing and Gong, 1993; Lowe,
// 2017). A write whose answer was lost may have happened at any time from its beginning on, or never:
// since each value is written once, it happened before the first read of its value ended, and if there
// is none it is as if it had never happened.
package history

import (
	"encoding/binary"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"
)

// An Op is an operation on a register.
type Op struct {
	Register string
	Client   string // who did it, and on which host
	Write    bool
	Value    string        // written, or read
	Begin    time.Duration // since some moment
	End      time.Duration // ignored where Lost
	Lost     bool          // it is not known whether it happened; reads that were lost are left out
}

// Check returns an error that shows an operation that cannot be explained, nil if there is none. Each
// register begins with the value that initial has.
func Check(ops []Op, initial map[string]string) error {
	by := map[string][]Op{}
	for _, op := range ops {
		if !op.Lost || op.Write {
			by[op.Register] = append(by[op.Register], op)
		}
	}
	for register, all := range by {
		if err := check(register, all, initial[register]); err != nil {
			return err
		}
	}
	return nil
}

// A search looks for an order of the operations on one register.
type search struct {
	ops   []Op
	done  []bool
	value string
	tried map[string]bool
	best  int // operations in the longest order
	stuck []Op
}

func check(register string, ops []Op, initial string) error {
	if err := regular(ops, initial); err != nil {
		return fmt.Errorf("register %s: %w", register, err)
	}
	ops, err := settle(quiet(ops), initial)
	if err != nil {
		return fmt.Errorf("register %s: %w", register, err)
	}
	slices.SortFunc(ops, func(a, b Op) int { return int(a.Begin - b.Begin) })
	s := &search{ops: ops, done: make([]bool, len(ops)), value: initial, tried: map[string]bool{}, best: -1}
	if s.order(0) {
		return nil
	}
	var lines []string
	for _, op := range s.stuck {
		lines = append(lines, op.String())
	}
	return fmt.Errorf("register %s: after %d operations, with the value %q or what is being written, none of these can come next:\n  %s", register, s.best, s.value, strings.Join(lines, "\n  "))
}

// regular tells which read returned what had been written over before it began.
func regular(ops []Op, initial string) error {
	of := map[string]Op{}
	for _, op := range ops {
		if op.Write {
			of[op.Value] = op
		}
	}
	for _, r := range ops {
		if r.Write {
			continue
		}
		w, written := of[r.Value]
		if !written && r.Value != initial {
			return fmt.Errorf("%s, which nobody wrote", r)
		}
		if written && w.Begin > r.End {
			return fmt.Errorf("%s, which was written only later: %s", r, w)
		}
		if w.Lost {
			continue
		}
		for _, over := range ops {
			if over.Write && !over.Lost && over.End < r.Begin && (!written || w.End < over.Begin) {
				return fmt.Errorf("%s, though that had been written over: %s, after %s", r, over, w)
			}
		}
	}
	return nil
}

// lostFor is after what time a write whose answer was lost has happened, or will never.
const lostFor = 30 * time.Second

// quiet leaves out the reads during which something was being written.
func quiet(ops []Op) []Op {
	var out []Op
	for _, r := range ops {
		loud := !r.Write && slices.ContainsFunc(ops, func(w Op) bool {
			end := w.End
			if w.Lost {
				end = w.Begin + lostFor
			}
			return w.Write && w.Begin <= r.End && end >= r.Begin
		})
		if !loud {
			out = append(out, r)
		}
	}
	return out
}

// settle says when at the latest the writes happened whose answers were lost, and leaves out those that
// nobody saw.
func settle(ops []Op, initial string) ([]Op, error) {
	written, seen := map[string]bool{initial: true}, map[string]time.Duration{}
	for _, op := range ops {
		if op.Write {
			if written[op.Value] {
				return nil, fmt.Errorf("%q was written twice, so that it is not known what was read", op.Value)
			}
			written[op.Value] = true
		}
	}
	for _, op := range ops {
		if op.Write {
			continue
		}
		if !written[op.Value] {
			return nil, fmt.Errorf("%s, which nobody wrote", op)
		}
		if first, ok := seen[op.Value]; !ok || op.End < first {
			seen[op.Value] = op.End
		}
	}
	var out []Op
	for _, op := range ops {
		if op.Write && op.Lost {
			first, ok := seen[op.Value]
			if !ok {
				continue
			}
			op.End = first
		}
		out = append(out, op)
	}
	return out, nil
}

// String says what an operation was.
func (o Op) String() string {
	verb, end := "read", o.End.Round(time.Millisecond).String()
	if o.Write {
		verb = "wrote"
	}
	if o.Lost {
		end = "?"
	}
	return fmt.Sprintf("%s %s %q from %s to %s", o.Client, verb, o.Value, o.Begin.Round(time.Millisecond), end)
}

// order finds an order of the operations that are left, of which n are done, or tells that there is none.
func (s *search) order(n int) bool {
	key := s.key()
	if s.tried[key] {
		return false
	}
	s.tried[key] = true
	// What ends first has to be among what comes next, so nothing that begins after that can.
	earliest, left := time.Duration(math.MaxInt64), false
	for i, op := range s.ops {
		if !s.done[i] {
			earliest, left = min(earliest, op.End), true
		}
	}
	if !left {
		return true
	}
	var next []int
	for i, op := range s.ops {
		if op.Begin > earliest {
			break
		}
		if !s.done[i] {
			next = append(next, i)
		}
	}
	for _, i := range next {
		op := s.ops[i]
		if !op.Write && op.Value != s.value {
			continue
		}
		before := s.value
		s.done[i] = true
		if op.Write {
			s.value = op.Value
		}
		if s.order(n + 1) {
			return true
		}
		s.done[i], s.value = false, before
	}
	if n > s.best {
		s.best, s.stuck = n, nil
		for _, i := range next {
			s.stuck = append(s.stuck, s.ops[i])
		}
	}
	return false
}

// key names what is done and the value. Operations are in the order of their beginnings, so what is
// done is a beginning of them and a few more.
func (s *search) key() string {
	first := slices.Index(s.done, false)
	if first < 0 {
		first = len(s.done)
	}
	out := binary.AppendUvarint(nil, uint64(first))
	for i := first; i < len(s.done); i++ {
		if s.done[i] {
			out = binary.AppendUvarint(out, uint64(i-first))
		}
	}
	return string(out) + "\x00" + s.value
}
