package main

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"

	"jardinet/api"
	"jardinet/client"
)

// full fills the disk under the service, a small one in memory that takes a right to mount, and wants
// questions answered, writes refused with 507, and all to go on once there is room.
func full(ctx context.Context, n int) ([]row, error) {
	out := row{tried: "a full disk: questions answered, writes refused with 507, all goes on when there is room", times: 3 * n}
	for range out.times {
		problem, err := fullOnce(ctx)
		if err != nil {
			return nil, err
		}
		if problem == "" {
			out.good++
		} else {
			out.says += problem + "; "
		}
	}
	return []row{out}, nil
}

func fullOnce(ctx context.Context) (problem string, err error) {
	dir, err := os.MkdirTemp("", "trust")
	if err != nil {
		return "", err
	}
	defer os.RemoveAll(dir)
	if out, err := exec.CommandContext(ctx, "mount", "-t", "tmpfs", "-o", "size=60m", "tmpfs", dir).CombinedOutput(); err != nil {
		return fmt.Sprintf("no disk could be made: %s", out), nil
	}
	defer exec.Command("umount", "-l", dir).Run()
	d, err := serve(ctx, filepath.Join(dir, "data"))
	if err != nil {
		return "", err
	}
	defer d.kill()
	if _, err := d.CreateCollection(ctx, "garden", nil); err != nil {
		return "", err
	}
	files := []string{"demo/documents/storm-damage-report.pdf", "demo/documents/seed-vault-manual.pdf"}
	if _, _, err := d.Add(ctx, "garden", files[:1]); err != nil {
		return "", err
	}
	if _, err := d.Settle(ctx, "garden", (*api.Document).Settled); err != nil {
		return "", err
	}
	fill := filepath.Join(dir, "fill")
	if err := exec.CommandContext(ctx, "dd", "if=/dev/zero", "of="+fill, "bs=1M").Run(); err == nil {
		return "the disk cannot be filled", nil
	}
	if problem := d.whileFull(ctx, files[1:]); problem != "" {
		return problem, nil
	}
	if err := os.Remove(fill); err != nil {
		return "", err
	}
	if _, _, err := d.Add(ctx, "garden", files[1:]); err != nil {
		return "with room again: " + err.Error(), nil
	}
	docs, err := d.Settle(ctx, "garden", (*api.Document).Settled)
	if err != nil {
		return "", err
	}
	for _, doc := range docs {
		if doc.State != "ready" {
			return doc.Name + " is " + doc.State, nil
		}
	}
	if damages, err := d.Check(ctx, false, func(int, int) {}); err != nil || len(damages) > 0 {
		return fmt.Sprintf("afterwards: %+v, %v", damages, err), nil
	}
	return "", nil
}

func (d *daemon) whileFull(ctx context.Context, files []string) string {
	if a, err := d.Ask(ctx, "garden", api.Ask{Question: "What was the highest gust?"}); err != nil || a.State == "not_found" {
		return fmt.Sprintf("a question: %v", err)
	}
	var refused *client.Problem
	if _, _, err := d.Add(ctx, "garden", files); !errors.As(err, &refused) || refused.Status != http.StatusInsufficientStorage {
		return fmt.Sprintf("a document: %v", err)
	}
	// A tag may still find room in what SQLite has already.
	_, err := d.SetTags(ctx, "garden", "storm-damage-report.pdf", []string{"x"})
	if err != nil && (!errors.As(err, &refused) || refused.Status != http.StatusInsufficientStorage) {
		return fmt.Sprintf("a tag: %v", err)
	}
	return ""
}
