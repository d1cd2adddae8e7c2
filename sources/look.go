package sources

import (
	"bytes"
	"context"
	"encoding/base64"
	"errors"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"time"

	"jardinet/api"
	"jardinet/fetch"
	"jardinet/folder"
	"jardinet/service"
)

// A look is one at a source.
type look struct {
	*Keeper
	source     *api.Source
	collection string
	known      known
}

// mostPage is how long a page may be whose links are looked for, in bytes.
const mostPage = 16 << 20

// address fetches an address, and the files that its page links to.
func (l *look) address(ctx context.Context) error {
	if !l.source.Links {
		err := l.page(ctx, l.source.At)
		l.source.Files = len(l.known.Pages)
		return err
	}
	page, err := l.fetcher.Get(ctx, l.source.At, fetch.Stamp{})
	if err != nil {
		return err
	}
	defer page.Body.Close()
	links, err := fetch.Links(io.LimitReader(page.Body, mostPage), page.Address)
	if err != nil {
		return err
	}
	if len(links) == 0 {
		return fmt.Errorf("%s links to no PDF on its own host", l.source.At)
	}
	var problems []error
	for _, link := range links {
		if err := l.page(ctx, link); err != nil {
			problems = append(problems, err)
		}
	}
	l.source.Files = len(l.known.Pages)
	return errors.Join(problems...)
}

// page fetches a page if it has changed, and puts it in.
func (l *look) page(ctx context.Context, address string) error {
	before := l.known.Pages[address]
	page, err := l.fetcher.Get(ctx, address, before.Stamp)
	if page == nil || err != nil {
		return err
	}
	defer page.Body.Close()
	name := page.Name
	if before.Document != "" {
		name = before.Document // so that it becomes a new version
	}
	added, refused, err := l.service.Put(ctx, l.collection, name, page.Body)
	if err != nil {
		return err
	}
	for _, r := range refused {
		err = errors.Join(err, errors.New(r.Reason))
	}
	for _, a := range added {
		fields := map[string]string{"address": address, "fetched": time.Now().UTC().Format(time.DateOnly)}
		if _, err := l.service.SetFields(ctx, l.collection, a.Document.ID, fields); err != nil {
			return err
		}
	}
	if len(added) > 0 {
		l.known.Pages[address] = fetched{page.Stamp, added[0].Document.Name}
	}
	return err
}

// folder takes what is new in a folder, and removes what is gone.
func (l *look) folder(ctx context.Context) error {
	var from folder.Folder = folder.Dir(l.source.At)
	if l.source.Kind == "webdav" {
		from = &folder.WebDAV{Address: l.source.At, Do: l.request}
	}
	files, err := from.Files(ctx)
	if err != nil {
		return err
	}
	var lists []folder.File
	// What is in an archive could not be removed with it, so archives are not taken.
	files = slices.DeleteFunc(files, func(f folder.File) bool {
		if isFieldList(f.Path) {
			lists = append(lists, f)
			return true
		}
		return !api.IsDocument(f.Path) || strings.HasSuffix(strings.ToLower(f.Path), ".zip")
	})
	var problems []error
	changes := folder.Compare(l.known.Files, files, time.Now(), l.Grace)
	for _, change := range changes {
		if err := l.change(ctx, from, change); err != nil {
			problems = append(problems, err)
		}
		if ctx.Err() != nil {
			break
		}
	}
	for _, list := range lists {
		if len(changes) > 0 || l.known.Lists[list.Path] != list.State {
			problems = append(problems, l.fields(ctx, from, list))
		}
	}
	l.source.Files = 0
	for _, k := range l.known.Files {
		if k.Taken != "" {
			l.source.Files++
		}
	}
	problems = slices.DeleteFunc(problems, func(err error) bool { return err == nil })
	return errors.Join(problems[:min(len(problems), mostProblems)]...)
}

// mostProblems is how many problems of a look are told.
const mostProblems = 10

func (l *look) change(ctx context.Context, from folder.Folder, change folder.Change) error {
	name := folder.Name(change.Path)
	if change.Remove {
		if _, err := l.service.Remove(ctx, l.collection, name, false); err != nil && !errors.Is(err, service.ErrNotFound) {
			return err
		}
		delete(l.known.Files, change.Path)
		return nil
	}
	file, err := from.Open(ctx, change.Path)
	if err != nil {
		return err
	}
	defer file.Close()
	_, err = l.service.Add(ctx, l.collection, name, file)
	if err != nil && !errors.Is(err, service.ErrRefused) {
		return err
	}
	// What is refused is so until it is another.
	k := l.known.Files[change.Path]
	k.Taken = change.State
	l.known.Files[change.Path] = k
	return err
}

// request asks a server by WebDAV, as far as the operator lets it.
func (l *look) request(req *http.Request) (*http.Response, error) {
	if secret := l.Secrets[l.source.Secret]; l.source.Secret != "" && secret != "" {
		req.Header.Set("Authorization", "Basic "+base64.StdEncoding.EncodeToString(bytes.TrimSpace([]byte(secret))))
	}
	if !strings.HasPrefix(req.URL.String(), strings.TrimSuffix(l.source.At, "/")) {
		return nil, fmt.Errorf("%s is not below %s", req.URL.Redacted(), l.source.At)
	}
	return l.fetcher.Do(req)
}
