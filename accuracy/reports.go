package accuracy

import (
	"context"
	"encoding/json"
	"fmt"
	"strconv"
	"strings"
	"time"

	"jardinet/access"
	"jardinet/api"
	"jardinet/store"
)

// mostComment is how many bytes a reader may say of an answer.
const mostComment = 2000

// Report keeps what a reader says of an answer.
func (b *Bench) Report(ctx context.Context, collection string, r api.Report) error {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return err
	}
	switch {
	case r.Says != "right" && r.Says != "wrong" && r.Says != "missing":
		return invalid(fmt.Errorf("an answer is %q: say right, wrong or missing", r.Says))
	case strings.TrimSpace(r.Question) == "":
		return invalid(fmt.Errorf("the report names no question"))
	case len(r.Question)+len(r.Comment)+len(r.Answer)+len(strings.Join(r.After, "")) > 10*mostComment || len(r.Comment) > mostComment:
		return invalid(fmt.Errorf("the report is too long; a comment has %d bytes at most", mostComment))
	}
	r.ID, r.Done = "", false
	r.By, r.At = access.From(ctx).Name, time.Now().UTC().Truncate(time.Second)
	return b.store.AddReport(ctx, id, r.Question, r)
}

// Reports returns what readers said of answers, and which questions got none, the latest first.
func (b *Bench) Reports(ctx context.Context, collection string) ([]api.Report, error) {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	all, err := b.store.Reports(ctx, id)
	if err != nil {
		return nil, err
	}
	out := []api.Report{}
	for _, kept := range all {
		var r api.Report
		if err := json.Unmarshal(kept.Data, &r); err != nil {
			return nil, fmt.Errorf("a report: %w", err)
		}
		r.ID, r.Done = strconv.FormatInt(kept.ID, 10), kept.Done
		out = append(out, r)
	}
	return out, nil
}

// SettleReport notes that an owner has seen to a report, or has to look at it again.
func (b *Bench) SettleReport(ctx context.Context, collection, report string, done bool) error {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return err
	}
	n, err := strconv.ParseInt(report, 10, 64)
	if err == nil {
		err = b.store.SetReportDone(ctx, id, n, done)
	}
	if err != nil {
		return fmt.Errorf("report %q in collection %q: %w", report, collection, store.ErrNotFound)
	}
	return nil
}
