package main

import (
	"context"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"path/filepath"
	"time"

	"jardinet/api"
	"jardinet/client"
	"jardinet/layout"
)

// kills ends the service again and again in the middle of what it does, and wants after each
// start that what was acknowledged is there and what is kept is whole.
func kills(ctx context.Context, n int) ([]row, error) {
	data, err := os.MkdirTemp("", "trust")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(data)
	files, err := demoFiles(120_000)
	if err != nil {
		return nil, err
	}
	out := row{tried: "kill -9 during intake, replacing, removing, correcting, backup", times: 500 * n}
	k := &killing{data: data, files: files, there: map[string]bool{}}
	for i := range out.times {
		problem, err := k.once(ctx, i)
		if err != nil {
			return nil, fmt.Errorf("kill %d: %w", i, err)
		}
		if problem == "" {
			out.good++
		} else {
			out.says += fmt.Sprintf("kill %d: %s; ", i, problem)
		}
	}
	return []row{out}, nil
}

type killing struct {
	data  string
	files []string
	there map[string]bool // names of documents that were acknowledged and not removed since
}

// once starts the service, looks at what is there, sets something going and kills it.
func (k *killing) once(ctx context.Context, i int) (problem string, err error) {
	d, err := serve(ctx, k.data)
	if err != nil {
		return "", err
	}
	defer d.kill()
	if i == 0 {
		if _, err := d.CreateCollection(ctx, "garden", nil); err != nil {
			return "", err
		}
	}
	docs, err := d.Settle(ctx, "garden", (*api.Document).Settled)
	if err != nil {
		return "", err
	}
	ready := map[string]bool{}
	for _, doc := range docs {
		if doc.State != "ready" {
			problem = fmt.Sprintf("%s is %s: %s", doc.Name, doc.State, doc.Reason)
		}
		ready[doc.Name] = true
	}
	for name, sure := range k.there {
		if sure && !ready[name] {
			problem = name + " is gone"
		}
	}
	if damages, err := d.Check(ctx, false, func(int, int) {}); err != nil {
		return "", err
	} else if len(damages) > 0 {
		problem = fmt.Sprintf("%+v", damages[0])
	}
	r := rand.New(rand.NewPCG(uint64(i), 3))
	done := make(chan struct{})
	go func() { defer close(done); k.work(ctx, d.Client, r, docs) }()
	select {
	case <-done:
	case <-time.After(time.Duration(r.IntN(250)) * time.Millisecond):
	}
	d.kill()
	<-done
	return problem, nil
}

// work does one thing, which may be cut short at any point. Only what is acknowledged counts.
func (k *killing) work(ctx context.Context, c *client.Client, r *rand.Rand, docs []api.Document) {
	file := k.files[r.IntN(len(k.files))]
	name := filepath.Base(file)
	switch r.IntN(5) {
	case 0, 1:
		if added, _, err := c.Add(ctx, "garden", []string{file}); err == nil && len(added) == 1 {
			k.there[added[0].Document.Name] = true
		}
	case 2:
		k.there[name] = false // from now on it may be there or not
		if _, err := c.Remove(ctx, "garden", name, false); err == nil {
			delete(k.there, name)
		}
	case 3:
		if len(docs) == 0 {
			return
		}
		d := docs[r.IntN(len(docs))]
		page, err := c.Page(ctx, "garden", d.ID, 1)
		if err == nil && len(page.Blocks) > 0 && !page.Blocks[0].Corrected {
			edit := layout.Edit{Was: page.Blocks[0].Text, Kind: layout.Heading}
			_ = c.Correct(ctx, "garden", d.ID, 1, &layout.Corrections{Edits: []layout.Edit{edit}})
		}
	default:
		_ = c.Backup(ctx, nil, io.Discard)
	}
}
