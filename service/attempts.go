package service

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/nats-io/nats.go"
)

// Who tries one passphrase after another has to wait longer each time, on whichever host: each tells
// the others of vain attempts. They are in no record, and a host that was not there knows nothing of them.

// attemptsSubject is where hosts tell each other of attempts to sign in.
const attemptsSubject = "jardinet.attempts"

// attempts are those to sign in.
type attempts struct {
	Host      string   `json:"host"`
	Vain      []string `json:"vain,omitempty"`      // the name and the address
	Succeeded string   `json:"succeeded,omitempty"` // the name
}

// spread tells the other hosts of attempts, if there are any.
func (s *Service) spread(a attempts) {
	if s.hosts == nil {
		return
	}
	a.Host = s.hosts.Host
	data, err := json.Marshal(a)
	if err == nil {
		err = s.hosts.Conn().Publish(attemptsSubject, data)
	}
	if err != nil {
		s.Log.Warn("the other hosts could not be told of an attempt to sign in", "error", err)
	}
}

// hearOfAttempts notes those at other hosts, until ctx is done.
func (s *Service) hearOfAttempts(ctx context.Context) error {
	told, err := s.hosts.Conn().Subscribe(attemptsSubject, func(msg *nats.Msg) {
		var a attempts
		if json.Unmarshal(msg.Data, &a) != nil || a.Host == s.hosts.Host {
			return
		}
		if len(a.Vain) > 0 {
			s.callers.fail(a.Vain)
		}
		s.callers.succeed(a.Succeeded)
	})
	if err != nil {
		return fmt.Errorf("service: %w", err)
	}
	context.AfterFunc(ctx, func() { _ = told.Unsubscribe() })
	return nil
}
