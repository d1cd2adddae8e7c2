package client

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"

	"jardinet/api"
)

// Check has the service read everything that is kept, and mend what can be derived again if
// that is wanted.
func (c *Client) Check(ctx context.Context, mend bool, progress func(done, all int)) ([]api.Damage, error) {
	path := "/check"
	if mend {
		path += "?mend=true"
	}
	var out struct{ Damages []api.Damage }
	return out.Damages, c.watch(ctx, path, progress, &out)
}

// Backup writes a backup of the service. Originals whose hashes are in have are left out.
func (c *Client) Backup(ctx context.Context, have []string, w io.Writer) error {
	data, err := json.Marshal(map[string]any{"have": have})
	if err != nil {
		return err
	}
	resp, err := c.call(ctx, http.MethodPost, "/backup", "application/json", bytes.NewReader(data))
	if err != nil {
		return err
	}
	defer resp.Body.Close()
	_, err = io.Copy(w, resp.Body)
	return err
}
