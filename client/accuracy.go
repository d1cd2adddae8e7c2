package client

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/measure"
)

// A Part says which questions of a kept set are meant; its zero value all of the newest version
// that are no drafts.
type Part struct {
	Version    int
	Split, Tag string
	Drafts     bool
}

func (p Part) values() url.Values {
	out := url.Values{}
	if p.Version > 0 {
		out.Set("version", strconv.Itoa(p.Version))
	}
	for name, value := range map[string]string{"split": p.Split, "tag": p.Tag} {
		if value != "" {
			out.Set(name, value)
		}
	}
	if p.Drafts {
		out.Set("drafts", "true")
	}
	return out
}

// Progress hears how far a job is; nil for nobody.
type Progress func(j *api.Job)

// Measure measures a collection with a question set, named so that its format is known, on a
// trial if one is named, and waits for it.
func (c *Client) Measure(ctx context.Context, collection, name string, set []byte, trial string, progress Progress) (*measure.Measurement, error) {
	return c.measured(ctx, collection, url.Values{"name": {name}}, trial, bytes.NewReader(set), progress)
}

// MeasureKept measures with a kept set.
func (c *Client) MeasureKept(ctx context.Context, collection, set string, part Part, trial string, progress Progress) (*measure.Measurement, error) {
	values := part.values()
	values.Set("set", set)
	return c.measured(ctx, collection, values, trial, nil, progress)
}

func (c *Client) measured(ctx context.Context, collection string, values url.Values, trial string, body io.Reader, progress Progress) (*measure.Measurement, error) {
	if trial != "" {
		values.Set("trial", trial)
	}
	j := new(api.Job)
	if err := c.do(ctx, http.MethodPost, in(collection, "measurements")+"?"+values.Encode(), "application/octet-stream", body, j); err != nil {
		return nil, err
	}
	id, err := c.Await(ctx, j, progress)
	if err != nil {
		return nil, err
	}
	return c.Measurement(ctx, id, false)
}

// Await waits for a job and returns what it made. If ctx ends before, the job is cancelled.
func (c *Client) Await(ctx context.Context, j *api.Job, progress Progress) (result string, err error) {
	for !j.Ended() {
		if progress != nil {
			progress(j)
		}
		next := new(api.Job)
		if err := c.get(ctx, in(j.Collection, "jobs", j.ID)+"?wait=1", next); err != nil {
			if ctx.Err() != nil {
				err = errors.Join(err, c.CancelJob(context.WithoutCancel(ctx), j.Collection, j.ID))
			}
			return "", err
		}
		j = next
	}
	switch j.State {
	case api.Failed:
		return "", errors.New(j.Problem)
	case api.Cancelled:
		return "", fmt.Errorf("%s was cancelled", j.What)
	}
	return j.Result, nil
}

// Jobs lists a collection's jobs, the latest first.
func (c *Client) Jobs(ctx context.Context, collection string) ([]api.Job, error) {
	var out struct{ Jobs []api.Job }
	return out.Jobs, c.get(ctx, in(collection, "jobs"), &out)
}

// CancelJob ends a job; nothing comes of it.
func (c *Client) CancelJob(ctx context.Context, collection, id string) error {
	return c.do(ctx, http.MethodDelete, in(collection, "jobs", id), "", nil, nil)
}

// Measurements lists measurements, without their records: those of one
// collection, or all if it is empty.
func (c *Client) Measurements(ctx context.Context, collection string) ([]measure.Measurement, error) {
	var out struct{ Measurements []measure.Measurement }
	path := "/measurements"
	if collection != "" {
		path = in(collection, "measurements")
	}
	return out.Measurements, c.get(ctx, path, &out)
}

func measurement(id string, more ...string) string {
	path := "/measurements/" + url.PathEscape(id)
	for _, m := range more {
		path += "/" + url.PathEscape(m)
	}
	return path
}

// Measurement returns a kept measurement; as people judged it if judged.
func (c *Client) Measurement(ctx context.Context, id string, judged bool) (*measure.Measurement, error) {
	out := new(measure.Measurement)
	return out, c.get(ctx, measurement(id)+"?judged="+strconv.FormatBool(judged), out)
}

// RemoveMeasurement removes one with people's verdicts on it.
func (c *Client) RemoveMeasurement(ctx context.Context, id string) error {
	return c.do(ctx, http.MethodDelete, measurement(id), "", nil, nil)
}

// Compare compares measurement b with a.
func (c *Client) Compare(ctx context.Context, a, b string) (*measure.Comparison, error) {
	out := new(measure.Comparison)
	return out, c.get(ctx, measurement(a, "compare", b), out)
}

// Report returns a measurement written up, as html, markdown, junit or run.
func (c *Client) Report(ctx context.Context, id, format, against string, judged bool) ([]byte, error) {
	values := url.Values{"format": {format}, "judged": {strconv.FormatBool(judged)}}
	if against != "" {
		values.Set("against", against)
	}
	return c.bytes(ctx, measurement(id, "report")+"?"+values.Encode())
}

// Judging tells what people said of a measurement's answers.
func (c *Client) Judging(ctx context.Context, id string) (*api.Judging, error) {
	out := new(api.Judging)
	return out, c.get(ctx, measurement(id, "verdicts"), out)
}

// Sets lists a collection's question sets.
func (c *Client) Sets(ctx context.Context, collection string) ([]api.QuestionSet, error) {
	var out struct{ Sets []api.QuestionSet }
	return out.Sets, c.get(ctx, in(collection, "sets"), &out)
}

// ImportSet puts the questions of a file, as jsonl or csv, into a set; beside what it holds if add.
func (c *Client) ImportSet(ctx context.Context, collection, set, as string, add bool, file []byte) (*api.QuestionSet, error) {
	out := new(api.QuestionSet)
	path := in(collection, "sets", set) + "?" + url.Values{"as": {as}, "add": {strconv.FormatBool(add)}}.Encode()
	return out, c.do(ctx, http.MethodPut, path, "application/octet-stream", bytes.NewReader(file), out)
}

// ImportTREC makes a set of topics and qrels.
func (c *Client) ImportTREC(ctx context.Context, collection, set string, add bool, topics, qrels []byte) (*api.QuestionSet, error) {
	out := new(api.QuestionSet)
	path := in(collection, "sets", set) + "?" + url.Values{"as": {"trec"}, "add": {strconv.FormatBool(add)}}.Encode()
	return out, c.send(ctx, http.MethodPut, path, map[string]string{"topics": string(topics), "qrels": string(qrels)}, out)
}

// Set returns a set with the questions of a part.
func (c *Client) Set(ctx context.Context, collection, set string, part Part) (*api.QuestionSet, error) {
	out := new(api.QuestionSet)
	return out, c.get(ctx, in(collection, "sets", set)+"?"+part.values().Encode(), out)
}

// ExportSet returns a set as a file: jsonl, csv, topics or qrels.
func (c *Client) ExportSet(ctx context.Context, collection, set string, part Part, format string) ([]byte, error) {
	values := part.values()
	values.Set("format", format)
	return c.bytes(ctx, in(collection, "sets", set)+"?"+values.Encode())
}

// RemoveSet removes a set with all its versions.
func (c *Client) RemoveSet(ctx context.Context, collection, set string) error {
	return c.do(ctx, http.MethodDelete, in(collection, "sets", set), "", nil, nil)
}

// RemoveQuestion takes a question out of a set.
func (c *Client) RemoveQuestion(ctx context.Context, collection, set, id string) (*api.QuestionSet, error) {
	out := new(api.QuestionSet)
	return out, c.do(ctx, http.MethodDelete, in(collection, "sets", set, "questions", id), "", nil, out)
}

// ReviewSet tells what should be looked at in a set.
func (c *Client) ReviewSet(ctx context.Context, collection, set string) (*api.SetReview, error) {
	out := new(api.SetReview)
	return out, c.get(ctx, in(collection, "sets", set, "review"), out)
}

// Draft proposes questions from documents, all of them if none is named.
func (c *Client) Draft(ctx context.Context, collection, set string, questions int, documents []string) (*api.Job, error) {
	out := new(api.Job)
	return out, c.post(ctx, in(collection, "sets", set, "draft"), map[string]any{"questions": questions, "documents": documents}, out)
}

// Gather takes over questions that people asked: those of conversations, or reports.
func (c *Client) Gather(ctx context.Context, collection, set, from string) (*api.QuestionSet, error) {
	out := new(api.QuestionSet)
	return out, c.post(ctx, in(collection, "sets", set, "gather"), map[string]string{"from": from}, out)
}

// Setups are those of a collection.
type Setups struct {
	Live   api.Setup       `json:"live"`
	Trials []api.Trial     `json:"trials"`
	Past   []api.PastSetup `json:"past"`
}

// Setups tells of the set-up in use, of trials, and of those that were in use.
func (c *Client) Setups(ctx context.Context, collection string) (*Setups, error) {
	out := new(Setups)
	return out, c.get(ctx, in(collection, "trials"), out)
}

// Try makes a trial.
func (c *Client) Try(ctx context.Context, collection, name string, setup api.Setup) (*api.Job, error) {
	out := new(api.Job)
	return out, c.send(ctx, http.MethodPut, in(collection, "trials", name), setup, out)
}

// DropTrial drops one with its index.
func (c *Client) DropTrial(ctx context.Context, collection, name string) error {
	return c.do(ctx, http.MethodDelete, in(collection, "trials", name), "", nil, nil)
}

// Promote makes a trial's set-up the live one.
func (c *Client) Promote(ctx context.Context, collection, name string) (*api.Setup, error) {
	out := new(api.Setup)
	return out, c.post(ctx, in(collection, "trials", name, "promote"), struct{}{}, out)
}

// PutBack makes an earlier set-up the live one again.
func (c *Client) PutBack(ctx context.Context, collection string, version int) (*api.Setup, error) {
	out := new(api.Setup)
	return out, c.post(ctx, in(collection, "setups", strconv.Itoa(version)), struct{}{}, out)
}

// AskTrial answers a question with a trial's set-up, or with the live one without an outside model.
func (c *Client) AskTrial(ctx context.Context, collection, trial string, ask api.Ask) (*answer.Answer, error) {
	out := new(answer.Answer)
	return out, c.post(ctx, in(collection, "trials", trial, "ask"), ask, out)
}

// Sweep tries many set-ups.
func (c *Client) Sweep(ctx context.Context, collection string, plan api.SweepPlan) (*api.Job, error) {
	out := new(api.Job)
	return out, c.post(ctx, in(collection, "sweeps"), plan, out)
}

// Sweeps lists a collection's sweeps, the latest first.
func (c *Client) Sweeps(ctx context.Context, collection string) ([]api.Sweep, error) {
	var out struct{ Sweeps []api.Sweep }
	return out.Sweeps, c.get(ctx, in(collection, "sweeps"), &out)
}

// Watch tells what a collection is measured with after each change.
func (c *Client) Watch(ctx context.Context, collection string) (*api.Watch, error) {
	out := new(api.Watch)
	return out, c.get(ctx, in(collection, "watch"), out)
}

// SetWatch has a collection measured after each change.
func (c *Client) SetWatch(ctx context.Context, collection string, w api.Watch) (*api.Watch, error) {
	out := new(api.Watch)
	return out, c.send(ctx, http.MethodPut, in(collection, "watch"), w, out)
}
