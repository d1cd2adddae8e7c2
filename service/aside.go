package service

import (
	"context"
	"time"
)

// On several hosts a write takes as long as NATS does, which may be some seconds when it chooses a new
// leader. What a question leaves behind (an entry of the audit, a word that nobody knows) is therefore
// written aside, in its order, and does not keep the answer waiting. On one host it is written at once.

// aside is what is still to be written.
type aside struct {
	todo chan func(context.Context)
}

// mostAside is how much may wait to be written; beyond that whoever asks waits too.
const mostAside = 10_000

// asideWithin is how long one of them is tried.
const asideWithin = time.Minute

// run writes what comes until ctx is done, and then what is left.
func (a *aside) run(ctx context.Context) {
	for {
		select {
		case do := <-a.todo:
			a.do(ctx, do)
		case <-ctx.Done():
			for {
				select {
				case do := <-a.todo:
					a.do(ctx, do)
				default:
					return
				}
			}
		}
	}
}

func (a *aside) do(ctx context.Context, do func(context.Context)) {
	within, cancel := context.WithTimeout(context.WithoutCancel(ctx), asideWithin)
	defer cancel()
	do(within)
}

// Aside writes what a question leaves behind.
func (s *Service) Aside(ctx context.Context, do func(context.Context)) {
	if s.hosts == nil {
		do(ctx)
		return
	}
	select {
	case s.hosts.aside.todo <- do:
	case <-ctx.Done():
	}
}
