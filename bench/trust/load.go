package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"sync"
	"sync/atomic"
	"time"

	"jardinet/api"
	"jardinet/client"
)

// loaded is how long the service is asked too much.
const loaded = 10 * time.Minute

// load asks more than can be answered, and wants what is over the limit refused with 429, the
// rest answered, and memory and open files flat.
func load(ctx context.Context, n int) ([]row, error) {
	dir, err := os.MkdirTemp("", "trust")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	d, err := serve(ctx, filepath.Join(dir, "data"), "--questions-at-once", "8", "--requests", "0", "--questions", "0")
	if err != nil {
		return nil, err
	}
	defer d.kill()
	if _, err := d.CreateCollection(ctx, "garden", nil); err != nil {
		return nil, err
	}
	files, err := demoFiles(1 << 20)
	if err != nil {
		return nil, err
	}
	if _, _, err := d.Add(ctx, "garden", files); err != nil {
		return nil, err
	}
	if _, err := d.Settle(ctx, "garden", (*api.Document).Settled); err != nil {
		return nil, err
	}
	ctx, cancel := context.WithTimeout(ctx, time.Duration(n)*loaded)
	defer cancel()
	var answered, refused, failed atomic.Int64
	var said sync.Map
	var askers sync.WaitGroup
	for asker := range 32 {
		askers.Go(func() {
			for i := 0; ctx.Err() == nil; i++ {
				_, err := d.Ask(ctx, "garden", api.Ask{Question: fmt.Sprintf("How long may seed number %d stay out of the cold store?", asker*1000+i)})
				var problem *client.Problem
				switch {
				case err == nil:
					answered.Add(1)
				case ctx.Err() != nil:
				case errors.As(err, &problem) && problem.Status == 429:
					refused.Add(1)
					time.Sleep(50 * time.Millisecond)
				default:
					failed.Add(1)
					said.Store(err.Error(), true)
				}
			}
		})
	}
	time.Sleep(10 * time.Second)
	early, files0 := d.held(), d.files()
	askers.Wait()
	late, files1 := d.held(), d.files()
	all := int(answered.Load() + refused.Load() + failed.Load())
	out := row{
		tried: fmt.Sprintf("32 askers for %.0f min where 8 are let in: answered or refused with 429", (time.Duration(n) * loaded).Minutes()), times: all, good: all - int(failed.Load()),
		says: fmt.Sprintf("%d answered, %d refused; %d MiB after 10 s, %d at the end; %d open files, then %d", answered.Load(), refused.Load(), early, late, files0, files1),
	}
	said.Range(func(why, _ any) bool { out.says += fmt.Sprint("; ", why); return true })
	return []row{out}, nil
}

// files counts the open files of the service.
func (d *daemon) files() int {
	open, _ := os.ReadDir(fmt.Sprintf("/proc/%d/fd", d.cmd.Process.Pid))
	return len(open)
}
