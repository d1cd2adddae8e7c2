package rendition

import (
	"bytes"
	"strconv"
	"strings"
	"unicode/utf16"

	"golang.org/x/text/encoding/charmap"
)

// readRTF reads a text in the Rich Text Format (version 1.9.1): paragraphs, which are headings if
// their style or outline level says so, items of lists and tables. What is drawn, and what the
// file says of itself, is left out.
func readRTF(data []byte) (*Text, error) {
	r := &rtfReader{t: new(Text), data: data, states: []rtfState{{uc: 1}}}
	for r.at < len(data) && len(r.states) > 0 {
		r.step()
	}
	r.paragraph()
	r.endTable()
	return r.t, nil
}

// mostGroups is how deep groups may stand in each other.
const mostGroups = 500

// An rtfState is what holds in a group.
type rtfState struct {
	skip  bool // what is in it is not for reading
	uc    int  // bytes that stand for a Unicode character for those who do not know it
	level int  // of a heading, 0 for none
	item  bool
}

type rtfReader struct {
	t      *Text
	data   []byte
	at     int
	states []rtfState
	text   strings.Builder // of the paragraph
	cells  []string        // of the row
	rows   [][]string
	inRow  bool
	mark   string // of an item
	skips  int    // bytes that stand for the character before
	first  bool   // nothing has been in this group yet
	star   bool   // what follows may be skipped by those who do not know it
	units  []uint16
	marked bool // the text is that of an item's mark
}

func (r *rtfReader) state() *rtfState { return &r.states[len(r.states)-1] }

// step reads one token.
func (r *rtfReader) step() {
	c := r.data[r.at]
	r.at++
	switch c {
	case '{':
		if len(r.states) < mostGroups {
			r.states = append(r.states, *r.state())
		}
		r.first, r.star = true, false
		return
	case '}':
		if r.marked {
			r.mark, r.marked = strings.TrimSpace(r.text.String()), false
			r.text.Reset()
		}
		r.states = r.states[:len(r.states)-1]
	case '\\':
		r.control()
		return
	case '\r', '\n':
	default:
		r.put(rune(charmap.Windows1252.DecodeByte(c)))
	}
	r.first = false
}

// put adds a character, unless it stands for one that was there already.
func (r *rtfReader) put(c rune) {
	switch {
	case r.state().skip:
	case r.skips > 0:
		r.skips--
	default:
		r.flushUnits()
		r.text.WriteRune(c)
	}
}

// flushUnits adds what came as UTF-16.
func (r *rtfReader) flushUnits() {
	for _, c := range utf16.Decode(r.units) {
		r.text.WriteRune(c)
	}
	r.units = r.units[:0]
}

// control reads a word or a sign of control.
func (r *rtfReader) control() {
	if r.at >= len(r.data) {
		return
	}
	start := r.at
	for r.at < len(r.data) && isLetter(r.data[r.at]) {
		r.at++
	}
	if r.at == start {
		r.sign(r.data[r.at])
		return
	}
	word := string(r.data[start:r.at])
	start = r.at
	for r.at < len(r.data) && (r.data[r.at] >= '0' && r.data[r.at] <= '9' || r.at == start && r.data[r.at] == '-') {
		r.at++
	}
	n, err := strconv.Atoi(string(r.data[start:r.at]))
	given := err == nil
	if r.at < len(r.data) && r.data[r.at] == ' ' {
		r.at++
	}
	if word == "bin" && n > 0 {
		r.at = min(len(r.data), r.at+n)
		return
	}
	r.word(word, n, given)
	r.first, r.star = false, false
}

func isLetter(c byte) bool { return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' }

func (r *rtfReader) sign(c byte) {
	r.at++
	switch c {
	case '\'':
		if r.at+2 <= len(r.data) {
			if n, err := strconv.ParseUint(string(r.data[r.at:r.at+2]), 16, 8); err == nil {
				r.put(charmap.Windows1252.DecodeByte(byte(n)))
			}
			r.at += 2
		}
	case '*':
		r.star = true
		return
	case '~':
		r.put(' ')
	case '_':
		r.put('-')
	case '\n', '\r':
		r.word("par", 0, false)
	case '\\', '{', '}':
		r.put(rune(c))
	}
	r.first = false
}

// rtfOther are groups that hold no text of the document.
var rtfOther = map[string]bool{
	"fonttbl": true, "colortbl": true, "stylesheet": true, "info": true, "pict": true, "object": true, "header": true, "headerl": true, "headerr": true, "headerf": true,
	"footer": true, "footerl": true, "footerr": true, "footerf": true, "listtable": true, "listoverridetable": true, "rsidtbl": true, "generator": true, "themedata": true,
	"colorschememapping": true, "datastore": true, "latentstyles": true, "xmlnstbl": true, "fldinst": true, "bkmkstart": true, "bkmkend": true, "nonshppict": true,
}

// rtfSigns are words that stand for characters.
var rtfSigns = map[string]rune{
	"tab": '\t', "line": '\n', "emdash": '—', "endash": '–', "lquote": '‘', "rquote": '’', "ldblquote": '“', "rdblquote": '”', "bullet": '•', "emspace": ' ', "enspace": ' ',
}

func (r *rtfReader) word(word string, n int, given bool) {
	s := r.state()
	if sign, ok := rtfSigns[word]; ok {
		r.put(sign)
		return
	}
	switch word {
	case "u":
		if !s.skip {
			r.units = append(r.units, uint16(n))
			r.skips = s.uc
		}
	case "uc":
		s.uc = max(0, min(n, 8))
	case "par", "sect", "page":
		r.paragraph()
	case "pard":
		s.level, s.item = 0, false
		r.mark = ""
		r.inRow = false
	case "outlinelevel":
		s.level = n + 1
	case "s":
		if n >= 1 && n <= 6 && s.level == 0 && given && r.style(n) {
			s.level = n
		}
	case "listtext", "pntext":
		r.marked, s.item = !s.skip, true
		r.states[max(0, len(r.states)-2)].item = true
	case "intbl":
		r.inRow = true
	case "cell":
		r.flushUnits()
		r.cells = append(r.cells, strings.TrimSpace(r.text.String()))
		r.text.Reset()
	case "row":
		if len(r.cells) > 0 {
			r.rows = append(r.rows, r.cells)
		}
		r.cells = nil
	case "v":
		s.skip = !given || n != 0 // hidden text
	default:
		if r.star || r.first && rtfOther[word] {
			s.skip = true
		}
	}
}

// style tells whether the style of that number is a heading's, as the usual writers number them.
func (r *rtfReader) style(n int) bool {
	sheet := bytes.Index(r.data, []byte(`{\stylesheet`))
	if sheet < 0 {
		return false
	}
	head := r.data[sheet:min(len(r.data), sheet+64<<10)]
	at := bytes.Index(head, []byte(`\s`+strconv.Itoa(n)))
	if at < 0 {
		return false
	}
	end := bytes.IndexByte(head[at:], ';')
	return end > 0 && bytes.Contains(bytes.ToLower(head[at:at+end]), []byte("heading"))
}

// paragraph ends a paragraph.
func (r *rtfReader) paragraph() {
	r.flushUnits()
	r.skips = 0
	if r.inRow && len(r.cells)+len(r.rows) > 0 {
		r.text.WriteByte('\n') // within a cell
		return
	}
	text := r.text.String()
	r.text.Reset()
	r.endTable()
	s := r.state()
	switch {
	case s.level > 0 && s.level <= 6:
		r.t.heading(s.level, text)
	case s.item || r.mark != "":
		mark := r.mark
		if mark == "" || mark == "·" {
			mark = "•"
		}
		r.t.item(1, mark, text)
		r.mark = ""
	default:
		// Many writers put the mark of an item into the text, before a tab.
		mark, rest, marked := strings.Cut(text, "\t")
		if mark = strings.TrimSpace(mark); marked && mark != "" && len(mark) <= len("xviii.") {
			r.t.item(1, mark, rest)
		} else {
			r.t.paragraph(text)
		}
	}
}

func (r *rtfReader) endTable() {
	if len(r.rows) > 0 {
		r.t.table(r.rows)
		r.rows = nil
	}
}
