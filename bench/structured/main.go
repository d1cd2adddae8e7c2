// Command structured has forms filled from the demo and from manuals that nothing was fitted on,
// and prints the share of the fields that are right.
//
//	go run ./bench/structured
//
// The fields are made of kept questions, twenty of each corpus, five to a form: a question whose
// accepted answer begins with a number becomes a number, one that is answered by yes or no becomes
// that, and others with short answers become texts. One field in five is one that the documents do
// not answer, which has to be null. Which questions they are goes by their order alone.
package main

import (
	"context"
	"encoding/json"
	"fmt"
	"log"
	"math"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"text/tabwriter"

	"jardinet/api"
	"jardinet/bench/manuals"
	"jardinet/measure"
	"jardinet/pdfium"
	"jardinet/service"
	"jardinet/structured"
)

const (
	perCorpus = 20
	perForm   = 5
)

// A field is one of a form, and what has to be in it.
type field struct {
	kind     string // number, boolean, text or null
	question measure.Question
	number   float64
}

func main() {
	pdfium.ServeReader()
	log.SetFlags(0)
	if err := run(context.Background()); err != nil {
		log.Fatal("structured: ", err)
	}
}

func run(ctx context.Context) error {
	if err := manuals.Fetch(ctx, "bench/cache/manuals", log.Printf); err != nil {
		return err
	}
	table := tabwriter.NewWriter(os.Stdout, 0, 4, 2, ' ', 0)
	defer table.Flush()
	fmt.Fprintln(table, "CORPUS\tFIELDS\tRIGHT\tNUMBER\tYES OR NO\tTEXT\tNULL\tRIGHT PAGE")
	for _, c := range []string{"demo", "unseen"} {
		right, err := measureOn(ctx, c)
		if err != nil {
			return err
		}
		fmt.Fprintf(table, "%s\t%s\n", c, right)
	}
	return nil
}

func corpus(name string) (files []string, set *measure.Set, err error) {
	if name == "demo" {
		files, err = filepath.Glob("demo/documents/*.pdf")
		if err != nil {
			return nil, nil, err
		}
		data, err := os.ReadFile("demo/questions.jsonl")
		if err != nil {
			return nil, nil, err
		}
		set, err = measure.ReadSet("demo", data)
		return files, set, err
	}
	for _, m := range manuals.Unseen() {
		files = append(files, filepath.Join("bench/cache/manuals", m.Name))
	}
	set, err = manuals.Questions("bench/questions", "unseen")
	return files, set, err
}

func measureOn(ctx context.Context, name string) (string, error) {
	files, set, err := corpus(name)
	if err != nil {
		return "", err
	}
	data, err := os.MkdirTemp("", "structured")
	if err != nil {
		return "", err
	}
	defer os.RemoveAll(data)
	s, err := service.Open(ctx, service.Options{Data: data, Scripts: []string{"none"}})
	if err != nil {
		return "", err
	}
	defer s.Close()
	if err := manuals.Fill(ctx, s, name, files, nil); err != nil {
		return "", err
	}
	good, of, pages, given := map[string]int{}, map[string]int{}, 0, 0
	for form := range slices.Chunk(choose(set.Questions), perForm) {
		filled, err := s.AskStructured(ctx, name, api.Ask{Question: "The documents", Schema: schemaOf(form)})
		if err != nil {
			return "", err
		}
		var values map[string]any
		if err := json.Unmarshal(filled.Value, &values); err != nil {
			return "", err
		}
		for i, f := range form {
			at := fmt.Sprintf("field_%d", i)
			of[f.kind]++
			if f.right(values[at]) {
				good[f.kind]++
				if f.kind != "null" {
					given++
					if f.cited(filled.Fields["/"+at]) {
						pages++
					}
				}
			}
		}
	}
	all := good["number"] + good["boolean"] + good["text"] + good["null"]
	n := of["number"] + of["boolean"] + of["text"] + of["null"]
	out := fmt.Sprintf("%d\t%.2f", n, float64(all)/float64(n))
	for _, kind := range []string{"number", "boolean", "text", "null"} {
		out += fmt.Sprintf("\t%d of %d", good[kind], of[kind])
	}
	return out + fmt.Sprintf("\t%d of %d", pages, given), nil
}

var leading = regexp.MustCompile(`^[-−]?\d[\d,.]*`)

// choose takes fields evenly from a set: four that are answered to one that is not.
func choose(all []measure.Question) []field {
	var answered, not []field
	for _, q := range all {
		if len(q.After) > 0 {
			continue
		}
		if !q.CanBeAnswered() {
			not = append(not, field{kind: "null", question: q})
			continue
		}
		if f, ok := fieldOf(q); ok {
			answered = append(answered, f)
		}
	}
	var out []field
	for i := range perCorpus {
		from := answered
		if i%perForm == perForm-1 {
			from = not
		}
		out = append(out, from[i*len(from)/perCorpus])
	}
	return out
}

func fieldOf(q measure.Question) (field, bool) {
	if len(q.Accept) == 0 {
		return field{}, false
	}
	first := strings.TrimSpace(q.Accept[0])
	switch low := strings.ToLower(first); {
	case low == "yes" || low == "no":
		return field{kind: "boolean", question: q}, true
	case leading.MatchString(first):
		n, err := strconv.ParseFloat(strings.NewReplacer("−", "-", ",", "").Replace(strings.TrimRight(leading.FindString(first), ".,")), 64)
		return field{kind: "number", question: q, number: n}, err == nil
	case len(strings.Fields(first)) <= 5:
		return field{kind: "text", question: q}, true
	}
	return field{}, false
}

func schemaOf(form []field) json.RawMessage {
	properties := map[string]any{}
	for i, f := range form {
		kind := map[string]string{"number": "number", "boolean": "boolean", "text": "string", "null": "string"}[f.kind]
		properties[fmt.Sprintf("field_%d", i)] = map[string]any{"type": []string{kind, "null"}, "description": strings.TrimRight(f.question.Question, "?. ") + "?"}
	}
	data, err := json.Marshal(map[string]any{"type": "object", "properties": properties})
	if err != nil {
		panic(err) // it holds texts alone
	}
	return data
}

// right tells whether a value is what has to be in the field.
func (f *field) right(value any) bool {
	switch value := value.(type) {
	case nil:
		return f.kind == "null"
	case float64:
		return f.kind == "number" && math.Abs(value-f.number) < 1e-9
	case bool:
		return f.kind == "boolean" && value == strings.EqualFold(strings.TrimSpace(f.question.Accept[0]), "yes")
	case string:
		return f.kind == "text" && f.question.Accepts(value)
	}
	return false
}

// cited tells whether a citation of the value is of a page that the question names.
func (f *field) cited(from structured.Filling) bool {
	for _, c := range from.Citations {
		for _, e := range f.question.Places() {
			if e.Document == c.Document && e.Page == c.Page {
				return true
			}
		}
	}
	return false
}
