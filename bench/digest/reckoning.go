package main

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"strings"

	"jardinet/service"
)

// An asked question over a table, with the value that it has and how many cells go in.
type asked struct {
	Question string
	Value    float64
	Document string
	Cells    int
	Fit      bool // it was used to fit
}

// onTables asks the questions over the demo's tables.
func onTables(ctx context.Context) error {
	dir, err := os.MkdirTemp("", "jardinet-digest-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	s, err := service.Open(ctx, service.Options{Data: dir, Scripts: []string{"none"}})
	if err != nil {
		return err
	}
	defer s.Close()
	if err := fill(ctx, s); err != nil {
		return err
	}
	f, err := os.Open("bench/digest/questions.jsonl")
	if err != nil {
		return err
	}
	defer f.Close()
	right, all := map[bool]int{}, map[bool]int{}
	lines := bufio.NewScanner(f)
	for lines.Scan() {
		var q asked
		if err := json.Unmarshal(lines.Bytes(), &q); err != nil {
			return err
		}
		r, err := s.Reckon(ctx, "halvern", q.Question, service.Scope{})
		if err != nil {
			return err
		}
		all[q.Fit]++
		if r != nil && r.Document == q.Document && math.Abs(r.Result.Value-q.Value) < 1e-4*math.Max(1, math.Abs(q.Value)) && len(r.Result.Rows) == q.Cells {
			right[q.Fit]++
		} else if *missed && q.Fit {
			fmt.Printf("    %s\n", q.Question)
			if r == nil {
				fmt.Println("      nothing")
			} else {
				fmt.Printf("      %s %s in %s, table %d %q: %s (%.3f), want %v\n", r.Result.Words, r.Result.Unit, r.Document, r.Number, r.Table.Title, r.Table.Columns[r.Result.Column].Name, r.Likeness, q.Value)
			}
		}
	}
	fmt.Printf("table questions, right with the right cells: %d of %d fitted on, %d of %d others\n", right[true], all[true], right[false], all[false])
	return lines.Err()
}

// fill makes a collection of the demo's documents.
func fill(ctx context.Context, s *service.Service) error {
	if _, err := s.CreateCollection(ctx, "halvern", nil); err != nil {
		return err
	}
	paths, err := filepath.Glob("demo/documents/*.pdf")
	if err != nil {
		return err
	}
	for _, path := range paths {
		f, err := os.Open(path)
		if err != nil {
			return err
		}
		_, err = s.Add(ctx, "halvern", filepath.Base(path), f)
		f.Close()
		if err != nil && !strings.Contains(err.Error(), "duplicate") {
			return err
		}
	}
	_, err = s.Settle(ctx, "halvern")
	return err
}
