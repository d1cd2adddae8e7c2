package client

import (
	"context"
	"io"
	"net/http"
	"net/url"

	"jardinet/access"
	"jardinet/api"
)

// Session tells who the service takes the caller for.
func (c *Client) Session(ctx context.Context) (*api.Session, error) {
	out := new(api.Session)
	return out, c.get(ctx, "/session", out)
}

// People lists who may sign in.
func (c *Client) People(ctx context.Context) ([]api.Person, error) {
	var out struct{ People []api.Person }
	return out.People, c.get(ctx, "/people", &out)
}

// AddPerson lets a person in.
func (c *Client) AddPerson(ctx context.Context, in api.NewPerson) (*api.Person, error) {
	out := new(api.Person)
	return out, c.post(ctx, "/people", in, out)
}

// ChangePerson changes what is given of a person.
func (c *Client) ChangePerson(ctx context.Context, name string, change api.PersonChange) (*api.Person, error) {
	out := new(api.Person)
	return out, c.send(ctx, http.MethodPatch, "/people/"+url.PathEscape(name), change, out)
}

// RemovePerson shuts a person out.
func (c *Client) RemovePerson(ctx context.Context, name string) error {
	return c.do(ctx, http.MethodDelete, "/people/"+url.PathEscape(name), "", nil, nil)
}

// Keys lists the keys of programs.
func (c *Client) Keys(ctx context.Context) ([]api.Key, error) {
	var out struct{ Keys []api.Key }
	return out.Keys, c.get(ctx, "/keys", &out)
}

// CreateKey makes a key; its secret is told this once.
func (c *Client) CreateKey(ctx context.Context, in api.NewKey) (*api.Key, error) {
	out := new(api.Key)
	return out, c.post(ctx, "/keys", in, out)
}

// RevokeKey makes a key useless.
func (c *Client) RevokeKey(ctx context.Context, name string) error {
	return c.do(ctx, http.MethodDelete, "/keys/"+url.PathEscape(name), "", nil, nil)
}

// Rights lists who may do what in a collection.
func (c *Client) Rights(ctx context.Context, collection string) ([]api.Holder, error) {
	var out struct{ Rights []api.Holder }
	return out.Rights, c.get(ctx, in(collection, "rights"), &out)
}

// SetRight gives somebody a right in a collection; an empty one takes it away.
func (c *Client) SetRight(ctx context.Context, collection, name, right string) ([]api.Holder, error) {
	var out struct{ Rights []api.Holder }
	return out.Rights, c.send(ctx, http.MethodPut, in(collection, "rights", name), map[string]string{"right": right}, &out)
}

// Audit lists what was done, the latest first. The parameters are those of the API.
func (c *Client) Audit(ctx context.Context, which url.Values) ([]access.Entry, error) {
	var out struct{ Entries []access.Entry }
	return out.Entries, c.get(ctx, "/audit?"+which.Encode(), &out)
}

// ExportAudit writes what was done as JSON Lines, in order.
func (c *Client) ExportAudit(ctx context.Context, which url.Values, w io.Writer) error {
	which.Set("format", "jsonl")
	resp, err := c.call(ctx, http.MethodGet, "/audit?"+which.Encode(), "", nil)
	if err != nil {
		return err
	}
	defer resp.Body.Close()
	_, err = io.Copy(w, resp.Body)
	return err
}

// VerifyAudit has the service check that the audit is whole.
func (c *Client) VerifyAudit(ctx context.Context) (*api.AuditState, error) {
	out := new(api.AuditState)
	return out, c.do(ctx, http.MethodPost, "/audit/verify", "", nil, out)
}
