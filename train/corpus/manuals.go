package main

import (
	"context"
	"errors"
	"fmt"
	"html"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"

	"jardinet/bench/manuals"
)

// A manual is a document of a Debian package: a PDF, or texts and web pages that are
// printed to one.
type manual struct {
	name, pkg string
	paths     []string // in the package; patterns are allowed
}

func listed() ([]manual, error) {
	data, err := os.ReadFile("train/manuals.tsv")
	if err != nil {
		return nil, err
	}
	var out []manual
	for line := range strings.Lines(string(data)) {
		f := strings.Split(strings.TrimSpace(line), "\t")
		if len(f) != 3 {
			return nil, fmt.Errorf("train/manuals.tsv: %q: want name, package and paths, with tabs between", line)
		}
		out = append(out, manual{f[0], f[1], strings.Fields(f[2])})
	}
	return out, nil
}

// fetch puts the manual into a folder as PDF, if it is not there.
func (m *manual) fetch(browser context.Context, folder string) error {
	pdf := filepath.Join(folder, m.name+".pdf")
	if _, err := os.Stat(pdf); err == nil {
		return nil
	}
	dir, err := os.MkdirTemp("", "package-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	root, err := manuals.Unpack(browser, m.pkg, dir)
	if err != nil {
		return err
	}
	var files []string
	for _, pattern := range m.paths {
		found, err := filepath.Glob(filepath.Join(root, pattern))
		if err != nil || len(found) == 0 {
			return errors.Join(fmt.Errorf("package %s has no %s", m.pkg, pattern), err)
		}
		slices.Sort(found)
		files = append(files, found...)
	}
	if strings.HasSuffix(strings.TrimSuffix(files[0], ".gz"), ".pdf") {
		data, err := manuals.Read(files[0])
		if err != nil {
			return err
		}
		return os.WriteFile(pdf, data, 0o644)
	}
	body, err := bodies(files)
	if err != nil {
		return err
	}
	return printHTML(browser, m.name, body, pdf)
}

var (
	inBody  = regexp.MustCompile(`(?is)<body[^>]*>(.*)</body>`)
	noPrint = regexp.MustCompile(`(?is)<(script|style|img)\b[^>]*>(.*?</(script|style)>)?`)
)

// bodies returns what web pages and texts hold, one after the other.
func bodies(files []string) (string, error) {
	var out strings.Builder
	for _, name := range files {
		data, err := manuals.Read(name)
		if err != nil {
			return "", err
		}
		s := strings.ToValidUTF8(string(data), " ")
		if !strings.HasSuffix(name, ".html") {
			fmt.Fprintf(&out, "<pre>%s</pre>", html.EscapeString(s))
			continue
		}
		if m := inBody.FindStringSubmatch(s); m != nil {
			s = m[1]
		}
		out.WriteString(noPrint.ReplaceAllString(s, ""))
	}
	return out.String(), nil
}
