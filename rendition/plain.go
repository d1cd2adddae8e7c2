package rendition

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
)

// readPlain reads a text without marks: paragraphs are parted by empty lines, or, where there
// are none, each line is one. A short line by itself between them that does not end as a sentence
// does is taken for a heading.
func readPlain(data []byte) (*Text, error) {
	if len(data) > mostLetters {
		return nil, tooLong(data)
	}
	t := new(Text)
	s := strings.ReplaceAll(string(bytes.TrimPrefix(data, []byte("\ufeff"))), "\r\n", "\n")
	s = strings.ReplaceAll(s, "\f", "\n\n")
	for _, part := range strings.Split(s, "\n\n") {
		lines := strings.Split(strings.Trim(part, "\n"), "\n")
		switch line := strings.TrimSpace(lines[0]); {
		case len(lines) == 1 && isHeading(line):
			t.heading(1, line)
		case len(lines) == 2 && isUnderline(lines[1]) && line != "":
			t.heading(1, line)
		default:
			t.lines(lines)
		}
	}
	return t, nil
}

func tooLong(data []byte) error {
	return fmt.Errorf("%w: a text of %.1f million letters, and %d million are read at most", ErrTooLarge, float64(len(data))/1e6, mostLetters/1_000_000)
}

// lines adds paragraphs and items of lists.
func (t *Text) lines(lines []string) {
	var gathered []string
	flush := func() {
		t.paragraph(strings.Join(gathered, "\n"))
		gathered = nil
	}
	for _, line := range lines {
		mark, rest := itemOf(line)
		if mark == "" {
			gathered = append(gathered, strings.TrimRight(line, " \t"))
			continue
		}
		flush()
		t.item(1, mark, rest)
	}
	flush()
}

// itemOf takes the mark off an item's line; both are empty for other lines.
func itemOf(line string) (mark, rest string) {
	mark, rest, ok := strings.Cut(strings.TrimSpace(line), " ")
	switch {
	case !ok:
		return "", ""
	case mark == "-" || mark == "*" || mark == "•" || mark == "–":
		return "•", rest
	case len(mark) <= 4 && strings.Trim(mark[:len(mark)-1], "0123456789") == "" && len(mark) > 1 && strings.ContainsAny(mark[len(mark)-1:], ".)"):
		return mark, rest
	}
	return "", ""
}

func isHeading(line string) bool {
	return line != "" && len(line) <= 70 && !strings.ContainsAny(line[len(line)-1:], ".,;:!?") && len(strings.Fields(line)) <= 10
}

func isUnderline(line string) bool {
	line = strings.TrimSpace(line)
	return len(line) >= 3 && (strings.Trim(line, "=") == "" || strings.Trim(line, "-") == "")
}

// readSeparated reads a table whose cells are separated by commas, semicolons or tabs, whichever
// the first line has most of.
func readSeparated(data []byte) (*Text, error) {
	if len(data) > mostLetters {
		return nil, tooLong(data)
	}
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	first, _, _ := bytes.Cut(data, []byte("\n"))
	r := csv.NewReader(bytes.NewReader(data))
	r.FieldsPerRecord, r.LazyQuotes = -1, true
	most := 0
	for _, separator := range ",;\t" {
		if n := bytes.Count(first, []byte(string(separator))); n > most {
			most, r.Comma = n, separator
		}
	}
	t := new(Text)
	var rows [][]string
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, err
		}
		rows = append(rows, row)
	}
	t.table(rows)
	return t, nil
}
