package folder

import (
	"context"
	"encoding/xml"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"path"
	"strings"
)

// A WebDAV is a folder that a server shows by WebDAV.
type WebDAV struct {
	Address string // of the folder
	Do      func(*http.Request) (*http.Response, error)
}

const (
	mostListing = 64 << 20 // bytes of a listing
	mostFolders = 10_000
)

// properties asks for what tells whether a file has changed.
const properties = `<?xml version="1.0"?><propfind xmlns="DAV:"><prop><resourcetype/><getetag/><getlastmodified/><getcontentlength/></prop></propfind>`

type listing struct {
	Responses []struct {
		Href  string `xml:"href"`
		Props []struct {
			Status string `xml:"status"`
			Prop   struct {
				Collection *struct{} `xml:"resourcetype>collection"`
				ETag       string    `xml:"getetag"`
				Modified   string    `xml:"getlastmodified"`
				Length     string    `xml:"getcontentlength"`
			} `xml:"prop"`
		} `xml:"propstat"`
	} `xml:"response"`
}

// Files lists the folder and those within, each by a request of its own, as many servers want it.
func (w *WebDAV) Files(ctx context.Context) ([]File, error) {
	root, err := url.Parse(strings.TrimSuffix(w.Address, "/") + "/")
	if err != nil {
		return nil, fmt.Errorf("the folder's address %q: %w", w.Address, err)
	}
	var out []File
	seen := map[string]bool{root.Path: true}
	for open := []string{root.Path}; len(open) > 0; open = open[1:] {
		l, err := w.list(ctx, root, open[0])
		if err != nil {
			return nil, err
		}
		for _, r := range l.Responses {
			href, err := root.Parse(r.Href)
			if err != nil || !strings.HasPrefix(href.Path, root.Path) || href.Path == open[0] || len(r.Props) == 0 || hidden(href.Path) {
				continue
			}
			p := r.Props[0].Prop
			if p.Collection == nil {
				out = append(out, File{strings.TrimPrefix(href.Path, root.Path), strings.Join([]string{p.ETag, p.Modified, p.Length}, " ")})
			} else if inside := strings.TrimSuffix(href.Path, "/") + "/"; !seen[inside] {
				seen[inside] = true
				open = append(open, inside)
			}
			if len(out) > Most || len(seen) > mostFolders {
				return nil, fmt.Errorf("the folder %s holds more than %d files or %d folders", w.Address, Most, mostFolders)
			}
		}
	}
	return out, nil
}

func hidden(p string) bool { return strings.HasPrefix(path.Base(p), ".") }

func (w *WebDAV) list(ctx context.Context, root *url.URL, at string) (*listing, error) {
	u := *root
	u.Path = at
	req, err := http.NewRequestWithContext(ctx, "PROPFIND", u.String(), strings.NewReader(properties))
	if err != nil {
		return nil, err
	}
	req.Header.Set("Depth", "1")
	req.Header.Set("Content-Type", "application/xml")
	resp, err := w.Do(req)
	if err != nil {
		return nil, fmt.Errorf("the folder %s: %w", u.Redacted(), err)
	}
	defer resp.Body.Close()
	if resp.StatusCode != http.StatusMultiStatus {
		return nil, fmt.Errorf("the folder %s: the server answers %s, and not with a listing", u.Redacted(), resp.Status)
	}
	l := new(listing)
	if err := xml.NewDecoder(io.LimitReader(resp.Body, mostListing)).Decode(l); err != nil {
		return nil, fmt.Errorf("the folder %s: its listing cannot be read: %w", u.Redacted(), err)
	}
	return l, nil
}

// Open fetches a file of the folder.
func (w *WebDAV) Open(ctx context.Context, inside string) (io.ReadCloser, error) {
	root, err := url.Parse(strings.TrimSuffix(w.Address, "/") + "/")
	if err != nil {
		return nil, err
	}
	root.Path += inside
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, root.String(), nil)
	if err != nil {
		return nil, err
	}
	resp, err := w.Do(req)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", inside, err)
	}
	if resp.StatusCode != http.StatusOK {
		resp.Body.Close()
		return nil, fmt.Errorf("%s: the server answers %s", inside, resp.Status)
	}
	return resp.Body, nil
}
