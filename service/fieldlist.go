package service

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"
)

// A FieldList gives many documents their fields.
type FieldList []struct {
	Document string
	Fields   map[string]string
}

// ReadFieldList reads fields for many documents, from CSV or JSON. CSV has the documents' names in
// its first column, and in the others the fields that their heads name. JSON is a list of objects,
// each with a "document" and its fields. The error says how a line should be.
func ReadFieldList(r io.Reader) (FieldList, error) {
	data, err := io.ReadAll(r)
	if err != nil {
		return nil, fmt.Errorf("read the fields: %w", err)
	}
	data = bytes.TrimSpace(bytes.TrimPrefix(data, []byte("\xef\xbb\xbf")))
	if bytes.HasPrefix(data, []byte("[")) || bytes.HasPrefix(data, []byte("{")) {
		return fieldsOfJSON(data)
	}
	return fieldsOfCSV(data)
}

func fieldsOfCSV(data []byte) (FieldList, error) {
	r := csv.NewReader(bytes.NewReader(data))
	heads, err := r.Read()
	if err != nil || len(heads) < 2 {
		return nil, fmt.Errorf("send CSV: a first line such as document,department,year, and then a line a document; or JSON: %w", ErrInvalid)
	}
	var out FieldList
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			return nil, fmt.Errorf("the CSV cannot be read: %w: %w", err, ErrInvalid)
		}
		fields := map[string]string{}
		for i := 1; i < len(row); i++ {
			fields[heads[i]] = row[i]
		}
		out = append(out, FieldList{{row[0], fields}}...)
	}
}

func fieldsOfJSON(data []byte) (FieldList, error) {
	var rows []map[string]any
	d := json.NewDecoder(bytes.NewReader(data))
	d.UseNumber()
	if err := d.Decode(&rows); err != nil {
		return nil, fmt.Errorf("the JSON cannot be read (%w): send a list such as [{\"document\": \"staff-handbook.pdf\", \"department\": \"estates\"}]: %w", err, ErrInvalid)
	}
	var out FieldList
	for i, row := range rows {
		name, ok := row["document"].(string)
		if !ok {
			return nil, fmt.Errorf("entry %d has no \"document\": %w", i+1, ErrInvalid)
		}
		fields := map[string]string{}
		for field, value := range row {
			switch value.(type) {
			case []any, map[string]any:
				return nil, fmt.Errorf("entry %d: the value of %q is neither text nor a number: %w", i+1, field, ErrInvalid)
			case nil:
				fields[field] = ""
			default:
				fields[field] = fmt.Sprint(value)
			}
		}
		delete(fields, "document")
		out = append(out, FieldList{{name, fields}}...)
	}
	return out, nil
}

// SetFieldList gives many documents their fields, and returns how many, and which names no document
// has. What cannot be a field ends it; those before have theirs by then.
func (s *Service) SetFieldList(ctx context.Context, collection string, list FieldList) (given int, missing []string, err error) {
	missing = []string{}
	for _, one := range list {
		switch _, err := s.SetFields(ctx, collection, one.Document, one.Fields); {
		case errors.Is(err, ErrNotFound):
			missing = append(missing, one.Document)
		case err != nil:
			return given, missing, fmt.Errorf("%s: %w", strings.TrimSpace(one.Document), err)
		default:
			given++
		}
	}
	return given, missing, nil
}
