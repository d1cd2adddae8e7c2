// Command clients writes the clients for other languages from the API's description.
//
//	go run ./tools/clients
package main

import (
	"bytes"
	"cmp"
	"embed"
	"log"
	"os"
	"os/exec"
	"regexp"
	"slices"
	"strings"
	"text/template"

	"github.com/getkin/kin-openapi/openapi3"

	"jardinet/server"
)

//go:embed python.tmpl typescript.tmpl
var templates embed.FS

// An operation is one of the API, as a method of a client.
type operation struct {
	ID, Snake, Method, Path, Summary string
	Params                           []string // of the path, in order
	Query                            []string
	Body                             string // media type of the request, or empty
	Answer                           string // media type of what comes back, or empty
}

func main() {
	log.SetFlags(0)
	if err := run(); err != nil {
		log.Fatal("clients: ", err)
	}
}

func run() error {
	operations, err := operations()
	if err != nil {
		return err
	}
	for name, path := range map[string]string{"python.tmpl": "clients/python/jardinet.py", "typescript.tmpl": "clients/typescript/jardinet.ts"} {
		t, err := template.New(name).Funcs(template.FuncMap{"name": pythonName, "python": pythonPath, "typescript": typescriptPath}).ParseFS(templates, name)
		if err != nil {
			return err
		}
		var out bytes.Buffer
		if err := t.Execute(&out, operations); err != nil {
			return err
		}
		if err := os.WriteFile(path, out.Bytes(), 0o644); err != nil {
			return err
		}
	}
	cmd := exec.Command("npx", "openapi-typescript", "../server/openapi.yaml", "-o", "../clients/typescript/schema.d.ts")
	cmd.Dir, cmd.Stderr = "web", os.Stderr
	return cmd.Run()
}

func operations() ([]operation, error) {
	description, err := openapi3.NewLoader().LoadFromData(server.Description)
	if err != nil {
		return nil, err
	}
	var out []operation
	for path, item := range description.Paths.Map() {
		for method, op := range item.Operations() {
			o := operation{ID: op.OperationID, Snake: snake(op.OperationID), Method: method, Path: path, Summary: op.Summary}
			for _, m := range braces.FindAllStringSubmatch(path, -1) {
				o.Params = append(o.Params, m[1])
			}
			for _, p := range op.Parameters {
				if p.Value.In == "query" {
					o.Query = append(o.Query, p.Value.Name)
				}
			}
			if op.RequestBody != nil {
				o.Body = first(op.RequestBody.Value.Content)
			}
			for _, status := range []string{"200", "201", "202"} {
				if r := op.Responses.Value(status); r != nil {
					o.Answer = first(r.Value.Content)
				}
			}
			if o.ID != "signInElsewhere" && o.ID != "comeBack" { // for browsers alone
				out = append(out, o)
			}
		}
	}
	slices.SortFunc(out, func(a, b operation) int { return cmp.Compare(a.ID, b.ID) })
	return out, nil
}

// first is the media type that a client sends or takes: JSON if there is a choice.
func first(c openapi3.Content) string {
	var all []string
	for kind := range c {
		all = append(all, kind)
	}
	slices.Sort(all)
	if slices.Contains(all, "application/json") || len(all) == 0 {
		return strings.Join(all[:min(len(all), 1)], "")
	}
	return all[0]
}

var (
	braces = regexp.MustCompile(`\{(\w+)\}`)
	hump   = regexp.MustCompile(`[A-Z]`)
)

func snake(s string) string {
	return hump.ReplaceAllStringFunc(s, func(c string) string { return "_" + strings.ToLower(c) })
}

// pythonName is a name that is no word of the language.
func pythonName(name string) string {
	if slices.Contains([]string{"as", "from", "in", "is", "not", "with"}, name) {
		return name + "_"
	}
	return name
}

func pythonPath(path string) string {
	return braces.ReplaceAllString(path, "{_quoted($1)}")
}

func typescriptPath(path string) string {
	return braces.ReplaceAllString(path, "${encodeURIComponent($1)}")
}
