package cluster

import (
	"context"
	"fmt"

	"github.com/nats-io/nats.go"
)

// Hosts ask each other, and tell each other what is in no record, over the connection to NATS: nothing
// else needs to reach them.

// Ask asks about a subject and returns the first reply.
func (c *Cluster) Ask(ctx context.Context, subject string, request []byte) ([]byte, error) {
	msg, err := c.conn.RequestWithContext(ctx, subject, request)
	if err != nil {
		return nil, err
	}
	return msg.Data, nil
}

// Reply replies to what is asked about a subject, each request by itself, until ctx is done. Where reply
// returns false it is left to another host, or to nobody.
func (c *Cluster) Reply(ctx context.Context, subject string, reply func(request []byte) ([]byte, bool)) error {
	return c.listen(ctx, subject, func(msg *nats.Msg) {
		go func() {
			if data, ok := reply(msg.Data); ok {
				_ = msg.Respond(data) // one who asked and got no reply asks another host
			}
		}()
	})
}

// spreadSubject is where hosts tell each other what is in no record.
const spreadSubject = "jardinet.spread."

// hostHeader is the name of the host that tells it.
const hostHeader = "Jardinet-Host"

// Spread tells the other hosts something about a subject.
func (c *Cluster) Spread(subject string, data []byte) error {
	return c.conn.PublishMsg(&nats.Msg{Subject: spreadSubject + subject, Data: data, Header: nats.Header{hostHeader: {c.Host}}})
}

// Hear has hear told what the other hosts spread about a subject, until ctx is done.
func (c *Cluster) Hear(ctx context.Context, subject string, hear func(data []byte)) error {
	return c.listen(ctx, spreadSubject+subject, func(msg *nats.Msg) {
		if msg.Header.Get(hostHeader) != c.Host {
			hear(msg.Data)
		}
	})
}

// listen calls heard with what is said about a subject, until ctx is done.
func (c *Cluster) listen(ctx context.Context, subject string, heard nats.MsgHandler) error {
	s, err := c.conn.Subscribe(subject, heard)
	if err != nil {
		return fmt.Errorf("cluster: %s: %w", subject, err)
	}
	context.AfterFunc(ctx, func() { _ = s.Unsubscribe() })
	return nil
}
