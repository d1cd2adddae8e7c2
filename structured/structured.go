// Package structured answers in the form that a JSON Schema (draft 2020-12) gives: each value of
// the schema becomes a question, and what answers it is read as the type that the schema wants.
//
// Nothing is made up to fit: a value that the documents do not give, or not as the schema wants
// it, is null, with the reason. Each value carries the citations of its answer. In the end the
// whole is held to the schema.
package structured

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/santhosh-tekuri/jsonschema/v6"

	"jardinet/answer"
)

// ErrSchema says that a schema cannot be answered by.
var ErrSchema = errors.New("this schema cannot be answered by")

// MostQuestions is how many values a schema may ask for.
const MostQuestions = 40

// A Filling tells where a value comes from, or why there is none.
type Filling struct {
	Question  string            `json:"question"`
	Citations []answer.Citation `json:"citations"`
	Reason    string            `json:"reason,omitempty"` // why the value is null
}

// A Filled is an answer in the form of a schema.
type Filled struct {
	Value  json.RawMessage    `json:"value"`
	Fields map[string]Filling `json:"fields"` // by JSON pointer
}

// A Source answers questions, and gives the tables of a page: each is rows of cells, the first
// with the columns' heads.
type Source struct {
	Ask    func(ctx context.Context, question string) (*answer.Answer, error)
	Tables func(ctx context.Context, documentID string, page int) ([][][]string, error)
}

// A schema is the part of a JSON Schema that is answered by.
type schema struct {
	Type        types              `json:"type"`
	Title       string             `json:"title"`
	Description string             `json:"description"`
	Properties  map[string]*schema `json:"properties"`
	Required    []string           `json:"required"`
	Items       *schema            `json:"items"`
	Enum        []any              `json:"enum"`
	Format      string             `json:"format"`
	Unit        string             `json:"x-unit"` // that a number has
	order       []string           // of the properties
}

// types are those that a value may have.
type types []string

// UnmarshalJSON reads one type or several.
func (t *types) UnmarshalJSON(data []byte) error {
	var one string
	if json.Unmarshal(data, &one) == nil {
		*t = types{one}
		return nil
	}
	return json.Unmarshal(data, (*[]string)(t))
}

// of is the type that a value has where it is not null.
func (s *schema) of() string {
	for _, t := range s.Type {
		if t != "null" {
			return t
		}
	}
	if len(s.Properties) > 0 {
		return "object"
	}
	return "string"
}

// Fill answers a question in the form of a schema.
func Fill(ctx context.Context, question string, form json.RawMessage, from Source) (*Filled, error) {
	whole, err := compile(form)
	if err != nil {
		return nil, err
	}
	root := new(schema)
	if err := json.Unmarshal(form, root); err != nil {
		return nil, fmt.Errorf("%w: %w", ErrSchema, err)
	}
	if err := root.arrange(form); err != nil {
		return nil, fmt.Errorf("%w: %w", ErrSchema, err)
	}
	if n := root.count(); n > MostQuestions {
		return nil, fmt.Errorf("%w: it asks for %d values, and %d are answered at a time", ErrSchema, n, MostQuestions)
	}
	f := &filler{Source: from, fields: map[string]Filling{}}
	value, err := f.fill(ctx, "", question, root)
	if err != nil {
		return nil, err
	}
	data, err := json.Marshal(value)
	if err != nil {
		return nil, err
	}
	return &Filled{data, f.fields}, hold(whole, data, f.fields)
}

// compile reads a schema, which may refer to nothing outside of itself.
func compile(form json.RawMessage) (*jsonschema.Schema, error) {
	read, err := jsonschema.UnmarshalJSON(bytes.NewReader(form))
	if err != nil {
		return nil, fmt.Errorf("%w: it is no JSON: %w", ErrSchema, err)
	}
	c := jsonschema.NewCompiler()
	c.UseLoader(jsonschema.SchemeURLLoader{})
	const at = "schema.json"
	if err := c.AddResource(at, read); err != nil {
		return nil, fmt.Errorf("%w: %w", ErrSchema, err)
	}
	whole, err := c.Compile(at)
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrSchema, err)
	}
	return whole, nil
}

// hold holds an answer to its schema, and says which value is missing that may not be.
func hold(whole *jsonschema.Schema, data []byte, fields map[string]Filling) error {
	value, err := jsonschema.UnmarshalJSON(bytes.NewReader(data))
	if err != nil {
		return err
	}
	err = whole.Validate(value)
	if err == nil {
		return nil
	}
	for at, f := range fields {
		if f.Reason != "" {
			return fmt.Errorf("%w: %s is null, since %s, and the schema does not let it be: %w", ErrSchema, placeName(at), f.Reason, err)
		}
	}
	return fmt.Errorf("%w: what the documents say does not fit it: %w", ErrSchema, err)
}

func placeName(at string) string {
	if at == "" {
		return "the value"
	}
	return strings.TrimPrefix(at, "/")
}

// arrange notes in which order the properties of a schema stand, so that they are asked so.
func (s *schema) arrange(raw json.RawMessage) error {
	var parts struct {
		Properties json.RawMessage `json:"properties"`
		Items      json.RawMessage `json:"items"`
	}
	if err := json.Unmarshal(raw, &parts); err != nil {
		return err
	}
	if s.Items != nil {
		if err := s.Items.arrange(parts.Items); err != nil {
			return err
		}
	}
	if len(s.Properties) == 0 {
		return nil
	}
	var each map[string]json.RawMessage
	if err := json.Unmarshal(parts.Properties, &each); err != nil {
		return err
	}
	d := json.NewDecoder(bytes.NewReader(parts.Properties))
	for depth := 0; ; {
		token, err := d.Token()
		if err != nil {
			break
		}
		switch token := token.(type) {
		case json.Delim:
			if token == '{' || token == '[' {
				depth++
			} else {
				depth--
			}
		case string:
			if depth == 1 && s.Properties[token] != nil && !slices.Contains(s.order, token) {
				s.order = append(s.order, token)
			}
		}
	}
	for name, one := range s.Properties {
		if err := one.arrange(each[name]); err != nil {
			return err
		}
	}
	return nil
}

// count is how many questions a schema asks.
func (s *schema) count() int {
	if s.of() != "object" {
		return 1
	}
	n := 0
	for _, p := range s.Properties {
		n += p.count()
	}
	return n
}
