package main

import (
	"context"
	"database/sql"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"

	"jardinet/api"
)

// damaged changes what is kept behind the service's back, and wants it noticed, and the rest
// served.
func damaged(ctx context.Context, n int) ([]row, error) {
	made, err := os.MkdirTemp("", "trust")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(made)
	if err := fill(ctx, made); err != nil {
		return nil, err
	}
	rows := []row{
		{tried: "records: 4 KiB overwritten; noticed, or refused with what to do", times: 60 * n},
		{tried: "pages: a byte changed; noticed and mended", times: 60 * n},
		{tried: "originals: a byte changed or gone; noticed, with the document's name", times: 30 * n},
	}
	for kind := range rows {
		for i := range rows[kind].times {
			dir := filepath.Join(made+"-copy", fmt.Sprint(kind, "-", i))
			if err := os.CopyFS(dir, os.DirFS(made)); err != nil {
				return nil, err
			}
			r := rand.New(rand.NewPCG(uint64(i), uint64(kind)))
			problem, err := hurt(ctx, dir, kind, r)
			if err != nil {
				return nil, err
			}
			if problem == "" {
				rows[kind].good++
			} else {
				rows[kind].says += problem + "; "
			}
			os.RemoveAll(dir)
		}
	}
	return rows, os.RemoveAll(made + "-copy")
}

// fill makes a data directory with some documents, and closes it.
func fill(ctx context.Context, dir string) error {
	d, err := serve(ctx, dir)
	if err != nil {
		return err
	}
	defer d.kill()
	if _, err := d.CreateCollection(ctx, "garden", nil); err != nil {
		return err
	}
	files, err := demoFiles(120_000)
	if err != nil {
		return err
	}
	if _, _, err := d.Add(ctx, "garden", files); err != nil {
		return err
	}
	if _, err := d.Settle(ctx, "garden", (*api.Document).Settled); err != nil {
		return err
	}
	return d.stop()
}

func hurt(ctx context.Context, dir string, kind int, r *rand.Rand) (problem string, err error) {
	records := filepath.Join(dir, "jardinet.sqlite")
	switch kind {
	case 0:
		f, err := os.OpenFile(records, os.O_RDWR, 0)
		if err != nil {
			return "", err
		}
		defer f.Close()
		stat, err := f.Stat()
		if err != nil {
			return "", err
		}
		junk := make([]byte, 4096)
		for i := range junk {
			junk[i] = byte(r.IntN(256))
		}
		if _, err := f.WriteAt(junk, 4096*r.Int64N(stat.Size()/4096)); err != nil {
			return "", err
		}
	case 1:
		if err := hurtPage(records, r); err != nil {
			return "", err
		}
	default:
		files, err := filepath.Glob(filepath.Join(dir, "files", "*"))
		if err != nil {
			return "", err
		}
		path := files[r.IntN(len(files))]
		data, err := os.ReadFile(path)
		if err != nil {
			return "", err
		}
		data[r.IntN(len(data))] ^= 1
		if r.IntN(3) == 0 {
			err = os.Remove(path)
		} else {
			err = os.WriteFile(path, data, 0o600)
		}
		if err != nil {
			return "", err
		}
	}
	d, err := serve(ctx, dir)
	if err != nil {
		if kind == 0 {
			return "", nil // it says what is wrong and what to do
		}
		return err.Error(), nil
	}
	defer d.kill()
	damages, err := d.Check(ctx, true, func(int, int) {})
	switch {
	case err != nil:
		return err.Error(), nil
	case len(damages) == 0:
		return fmt.Sprintf("kind %d is not noticed", kind), nil
	case kind == 0:
		return "", nil
	}
	if kind == 1 && !damages[0].Mended || kind == 2 && damages[0].Document == "" {
		return fmt.Sprintf("%+v", damages[0]), nil
	}
	if kind == 1 {
		if _, err := d.Settle(ctx, "garden", (*api.Document).Settled); err != nil {
			return "", err
		}
		if left, err := d.Check(ctx, false, func(int, int) {}); err != nil || len(left) > 0 {
			return fmt.Sprintf("still damaged: %+v, %v", left, err), nil
		}
	}
	return "", nil
}

// hurtPage changes a byte of a kept page in the records.
func hurtPage(records string, r *rand.Rand) error {
	db, err := sql.Open("sqlite", "file:"+records)
	if err != nil {
		return err
	}
	defer db.Close()
	var sum string
	var number int
	var data []byte
	if err := db.QueryRow("SELECT sha256, number, data FROM pages WHERE sha256 IN (SELECT sha256 FROM documents WHERE state = 'ready') ORDER BY sha256, number LIMIT 1 OFFSET ?", r.IntN(20)).Scan(&sum, &number, &data); err != nil {
		return err
	}
	data[r.IntN(len(data))] ^= 1
	_, err = db.Exec("UPDATE pages SET data = ? WHERE sha256 = ? AND number = ?", data, sum, number)
	return err
}
