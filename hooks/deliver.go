package hooks

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"io"
	"net/http"
	"strconv"
	"strings"
	"sync"
	"time"

	"jardinet/store"
)

// Limits of a delivery.
const (
	timeout   = 10 * time.Second
	mostTries = 10
	longest   = 12 * time.Hour // between two of them
	idle      = time.Minute    // after which the queue is looked at, whatever happens
)

// pause is how long is waited after so many tries: 5 seconds, then four times as long each time.
// The last one is made after two days.
func pause(tries int) time.Duration {
	d := 5 * time.Second
	for range min(tries, 20) {
		d = min(4*d, longest)
	}
	return d
}

// run delivers what is due, whenever something happened or the time of another try has come.
func (t *Teller) run(ctx context.Context) {
	events, cancel := t.service.Listen()
	defer cancel()
	timer := time.NewTimer(0)
	defer timer.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case _, open := <-events:
			if !open {
				return
			}
			timer.Reset(0)
			continue
		case <-t.wake:
		case <-timer.C:
		}
		next, err := t.round(ctx)
		if err != nil && ctx.Err() == nil {
			t.Log.Error("what is to be told cannot be read", "error", err)
		}
		timer.Reset(next)
	}
}

// round delivers the next thing to each program that is due, to all of them at once, and returns
// how long to wait for the next round.
func (t *Teller) round(ctx context.Context) (time.Duration, error) {
	queue, err := t.store.Deliveries(ctx)
	if err != nil {
		return idle, err
	}
	wait := idle
	var sending sync.WaitGroup
	for i := range queue {
		d := &queue[i]
		if left := time.Until(d.Due); left > 0 {
			wait = min(wait, left)
			continue
		}
		wait = 0 // there may be more for it
		sending.Go(func() {
			if err := t.deliver(ctx, d); err != nil && ctx.Err() == nil {
				t.Log.Error("a delivery cannot be recorded", "webhook", d.Hook, "error", err)
			}
		})
	}
	sending.Wait()
	return wait, nil
}

// deliver tries once, and records what came of it.
func (t *Teller) deliver(ctx context.Context, d *store.Delivery) error {
	err := t.send(ctx, d)
	switch {
	case ctx.Err() != nil:
		return nil // as if it had not been tried
	case err == nil:
		return t.store.Delivered(ctx, d, "")
	case d.Tries+1 >= mostTries:
		t.Log.Error("a program could not be told, and it is given up", "webhook", d.Hook, "delivery", d.ID, "error", err)
		return t.store.Delivered(ctx, d, fmt.Sprintf("given up after %d tries: %v", mostTries, err))
	}
	t.Log.Warn("a program could not be told yet", "webhook", d.Hook, "delivery", d.ID, "error", err)
	return t.store.Later(ctx, d, time.Now().Add(t.pause(d.Tries)), err.Error())
}

func (t *Teller) send(ctx context.Context, d *store.Delivery) error {
	address := t.Addresses[d.Hook]
	if address == "" {
		return fmt.Errorf("the service was started without --webhook %s=ADDRESS", d.Hook)
	}
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, address, strings.NewReader(d.Body))
	if err != nil {
		return err
	}
	at := strconv.FormatInt(time.Now().Unix(), 10)
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("Webhook-Id", d.ID)
	r.Header.Set("Webhook-Timestamp", at)
	if secret := t.Secrets[d.Hook]; secret != "" {
		r.Header.Set("Webhook-Signature", Sign(secret, d.ID, at, d.Body))
	}
	answer, err := t.client.Do(r)
	if err != nil {
		return err
	}
	defer answer.Body.Close()
	_, _ = io.CopyN(io.Discard, answer.Body, 64<<10) // so that the connection can be used again
	if answer.StatusCode >= 300 {
		return fmt.Errorf("it answered %s", answer.Status)
	}
	return nil
}

// Sign returns the signature of a delivery: "v1," and the HMAC-SHA256 of "id.timestamp.body" in
// base64. A secret that begins with whsec_ is base64 itself.
func Sign(secret, id, timestamp, body string) string {
	key := []byte(secret)
	if coded, ok := strings.CutPrefix(secret, "whsec_"); ok {
		if raw, err := base64.StdEncoding.DecodeString(coded); err == nil {
			key = raw
		}
	}
	mac := hmac.New(sha256.New, key)
	io.WriteString(mac, id+"."+timestamp+"."+body)
	return "v1," + base64.StdEncoding.EncodeToString(mac.Sum(nil))
}
