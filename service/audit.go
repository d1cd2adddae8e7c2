package service

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"iter"
	"sync"
	"time"

	"jardinet/access"
	"jardinet/api"
)

// An auditor writes entries together that come together, so that many at once wait for one
// write to the disk.
type auditor struct {
	entries chan recorded
	quit    chan struct{}
	stop    sync.Once
	done    chan struct{}
}

type recorded struct {
	entry   *access.Entry
	written chan<- error
}

// auditBatch is how many entries are written together at most.
const auditBatch = 256

func (s *Service) startAudit() {
	s.auditor = &auditor{entries: make(chan recorded), quit: make(chan struct{}), done: make(chan struct{})}
	go func() {
		defer close(s.auditor.done)
		trimmed := time.Time{}
		for {
			select {
			case first := <-s.auditor.entries:
				if time.Since(trimmed) > time.Hour {
					trimmed = time.Now()
					s.trimAudit(trimmed)
				}
				s.writeAudit(first)
			case <-s.auditor.quit:
				return
			}
		}
	}()
}

func (s *Service) writeAudit(first recorded) {
	batch := []recorded{first}
	for more := true; more && len(batch) < auditBatch; {
		select {
		case next := <-s.auditor.entries:
			batch = append(batch, next)
		default:
			more = false
		}
	}
	entries := make([]*access.Entry, len(batch))
	for i, r := range batch {
		entries[i] = r.entry
	}
	err := s.store.AddAudit(context.Background(), entries)
	for _, r := range batch {
		r.written <- err
	}
}

// trimAudit lets go of what is older than it is kept for.
func (s *Service) trimAudit(now time.Time) {
	if s.AuditFor == 0 {
		return
	}
	if err := s.store.TrimAudit(context.Background(), now.Add(-s.AuditFor)); err != nil {
		s.Log.Error("the audit could not be shortened", "error", err)
	}
}

func (s *Service) stopAudit() {
	s.auditor.stop.Do(func() { close(s.auditor.quit) })
	<-s.auditor.done
}

// Record writes down what somebody did. A question is kept only where the collection says so.
func (s *Service) Record(ctx context.Context, e *access.Entry) error {
	if e.Question != "" {
		if c, err := s.named(e.Collection); err != nil || !c.sharing.Load().Questions {
			e.Question = ""
		}
	}
	written := make(chan error, 1)
	select {
	case s.auditor.entries <- recorded{e, written}:
		return <-written
	case <-s.auditor.quit:
		return errors.New("service: the audit is closed already")
	}
}

// An AuditFilter says which entries are meant; what is empty leaves out none.
type AuditFilter struct {
	Who, Operation, Collection string
	Since                      time.Time
	Below                      int64 // entries with smaller numbers alone; 0 for all
	Top                        int   // so many at most; 0 for all
	InOrder                    bool  // the oldest first
}

// Audit yields what was done, the latest first unless told otherwise.
func (s *Service) Audit(ctx context.Context, f AuditFilter) iter.Seq2[*access.Entry, error] {
	return func(yield func(*access.Entry, error) bool) {
		n := 0
		for data, err := range s.store.Audit(ctx, f.Since, !f.InOrder) {
			e := new(access.Entry)
			if err == nil {
				err = json.Unmarshal(data, e)
			}
			if err != nil {
				yield(nil, fmt.Errorf("service: audit: %w", err))
				return
			}
			if f.Who != "" && e.Who != f.Who || f.Operation != "" && e.Operation != f.Operation || f.Collection != "" && e.Collection != f.Collection || f.Below > 0 && e.Number >= f.Below {
				continue
			}
			if n++; !yield(e, nil) || n == f.Top {
				return
			}
		}
	}
}

// VerifyAudit checks that no entry was changed, taken out or put in between.
func (s *Service) VerifyAudit(ctx context.Context) (*api.AuditState, error) {
	chain, err := s.store.AuditStart(ctx)
	if err != nil {
		return nil, err
	}
	out := &api.AuditState{First: chain.Number + 1, Whole: true}
	for data, err := range s.store.Audit(ctx, time.Time{}, false) {
		if err != nil {
			return nil, err
		}
		if err := chain.Next(data); err != nil {
			out.Whole, out.Problem = false, err.Error()
			break
		}
	}
	out.Last, out.Sum = chain.Number, chain.Sum
	return out, nil
}
