package main

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"reflect"
	"sync"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/backup"
	"jardinet/client"
	"jardinet/measure"
)

// askedBefore is how many questions are asked of the service and of what is restored.
const askedBefore = 20

// backups takes backups while documents are being taken in, restores each, and wants the same
// answers of the collection that stands and nothing damaged.
func backups(ctx context.Context, n int) ([]row, error) {
	dir, err := os.MkdirTemp("", "trust")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	d, err := serve(ctx, filepath.Join(dir, "data"), "--requests", "0", "--questions", "0")
	if err != nil {
		return nil, err
	}
	defer d.kill()
	files, err := demoFiles(1 << 20)
	if err != nil {
		return nil, err
	}
	for _, name := range []string{"standing", "coming"} {
		if _, err := d.CreateCollection(ctx, name, nil); err != nil {
			return nil, err
		}
	}
	if _, _, err := d.Add(ctx, "standing", files); err != nil {
		return nil, err
	}
	if _, err := d.Settle(ctx, "standing", (*api.Document).Settled); err != nil {
		return nil, err
	}
	asked, err := answersOf(ctx, d.Client)
	if err != nil {
		return nil, err
	}
	intake, stop := context.WithCancel(ctx)
	var coming sync.WaitGroup
	coming.Go(func() { keepAdding(intake, d.Client, files) })
	defer coming.Wait()
	defer stop()
	out := row{tried: "backup under full intake: restored, whole, and with the same 20 answers", times: 10 * n}
	for i := range out.times {
		problem, err := throughBackup(ctx, d.Client, filepath.Join(dir, fmt.Sprint(i)), asked)
		if err != nil {
			return nil, fmt.Errorf("backup %d: %w", i, err)
		}
		if problem == "" {
			out.good++
		} else {
			out.says += problem + "; "
		}
	}
	return []row{out}, nil
}

// keepAdding puts documents in and takes them out again, for good, until it is told to stop.
func keepAdding(ctx context.Context, c *client.Client, files []string) {
	for ctx.Err() == nil {
		for _, file := range files {
			_, _, _ = c.Add(ctx, "coming", []string{file})
		}
		for _, file := range files {
			_, _ = c.Remove(ctx, "coming", filepath.Base(file), false)
			_ = c.Purge(ctx, "coming", filepath.Base(file))
		}
	}
}

// throughBackup writes a backup into a new directory, restores it there and asks what is served from it.
func throughBackup(ctx context.Context, c *client.Client, dir string, asked []*answer.Answer) (problem string, err error) {
	if err := os.Mkdir(dir, 0o755); err != nil {
		return "", err
	}
	defer os.RemoveAll(dir)
	archive := filepath.Join(dir, "backup.tar")
	f, err := os.Create(archive)
	if err != nil {
		return "", err
	}
	defer f.Close()
	if err := c.Backup(ctx, nil, f); err != nil {
		return "not written: " + err.Error(), nil
	}
	data := filepath.Join(dir, "data")
	if _, err := backup.Restore(data, archive); err != nil {
		return "not restored: " + err.Error(), nil
	}
	d, err := serve(ctx, data, "--requests", "0", "--questions", "0")
	if err != nil {
		return "not served: " + err.Error(), nil
	}
	defer d.kill()
	if _, err := d.Settle(ctx, "standing", (*api.Document).Settled); err != nil {
		return "", err
	}
	damages, err := d.Check(ctx, false, func(int, int) {})
	if err != nil || len(damages) > 0 {
		return fmt.Sprintf("checked: %v %+v", err, damages), nil
	}
	again, err := answersOf(ctx, d.Client)
	if err != nil {
		return "", err
	}
	for i, a := range again {
		if a.Short != asked[i].Short || !reflect.DeepEqual(a.Citations, asked[i].Citations) {
			return fmt.Sprintf("%q was answered %q, and then %q", a.Question, asked[i].Short, a.Short), nil
		}
	}
	return "", nil
}

// answersOf asks the first of the demo's questions.
func answersOf(ctx context.Context, c *client.Client) ([]*answer.Answer, error) {
	data, err := os.ReadFile("bench/questions/demo.jsonl")
	if err != nil {
		return nil, err
	}
	set, err := measure.ReadSet("demo.jsonl", data)
	if err != nil {
		return nil, err
	}
	var out []*answer.Answer
	for _, q := range set.Questions[:askedBefore] {
		a, err := c.Ask(ctx, "standing", api.Ask{Question: q.Question})
		if err != nil {
			return nil, err
		}
		out = append(out, a)
	}
	return out, nil
}
