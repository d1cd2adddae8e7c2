package main

import (
	"fmt"
	"log"
	"os"
	"path/filepath"
	"strings"

	"jardinet/measure/questionset"
)

// lessons turns lessons.txt, whose lines are a document, words on a page of it and the
// questions that they answer, into a question set.
func lessons(from, documents, to string) error {
	data, err := os.ReadFile(from)
	if err != nil {
		return err
	}
	list := questionset.List{Prefix: "l-", Documents: map[string]string{}, Warn: func(s string) { log.Print(s) }}
	for _, name := range names {
		list.Documents[strings.TrimSuffix(name, ".pdf")] = filepath.Join(documents, name)
	}
	lines, err := lessonLines(string(data))
	if err != nil {
		return fmt.Errorf("%s: %w", from, err)
	}
	set, err := list.Set([]byte(strings.Join(lines, "\n")))
	if err != nil {
		return err
	}
	return os.WriteFile(to, set, 0o644)
}

// lessonLines writes a line a question, as the author of question sets wants them.
func lessonLines(list string) ([]string, error) {
	var out []string
	for i, line := range strings.Split(list, "\n") {
		if line == "" || line[0] == '#' {
			continue
		}
		fields := strings.Split(line, " | ")
		if len(fields) != 3 {
			return nil, fmt.Errorf("line %d: write document | words on the page | question / question", i+1)
		}
		for _, question := range strings.Split(fields[2], " / ") {
			out = append(out, fmt.Sprintf("lesson | %s |  |  | %s %s", question, fields[0], fields[1]))
		}
	}
	return out, nil
}
