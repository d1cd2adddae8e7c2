package main

import (
	"archive/zip"
	"bytes"
	"encoding/base64"
	"fmt"
	"html"
	"strings"

	"github.com/xuri/excelize/v2"
)

// A text is what is put into a file of any kind: a heading, some sentences and a table.
type text struct {
	title string
	lines []string
	rows  [][]string
}

// houses of the garden, each of which has a file of every kind.
var houses = []string{"Palm House", "Dew House", "Orchid House", "Arid House", "Alpine House", "Water Lily House", "Nepenthes House", "Fern House", "Citrus House", "Bonsai House"}

// about returns what is said of a house, a question and the words that answer it.
func about(i int) (t text, question, answer string) {
	name := houses[i]
	litres := fmt.Sprintf("%d litres", 110+30*i)
	return text{
		title: "Watering the " + name,
		lines: []string{
			fmt.Sprintf("The %s is opened at %d in the morning.", name, 6+i%4),
			fmt.Sprintf("The gardener on duty gives the %s %s of rain water every day.", name, litres),
			"Leaves that have fallen are taken out before noon.",
		},
		rows: [][]string{{"Tool", "Number"}, {"Watering cans", fmt.Sprint(3 + i)}, {"Hoses", fmt.Sprint(2 + i%3)}},
	}, fmt.Sprintf("How much rain water is the %s given every day?", name), litres
}

// A kind makes files of one kind.
type kind struct {
	extension string
	make      func(text) ([]byte, error)
}

var kinds = []kind{
	{".docx", docx}, {".odt", odt}, {".pptx", pptx}, {".xlsx", xlsx}, {".ods", ods}, {".epub", epub}, {".rtf", rtf},
	{".html", page}, {".md", markdown}, {".txt", plain}, {".csv", separated(",")}, {".tsv", separated("\t")}, {".eml", mail}, {".zip", archive},
}

// packed packs parts, in turn a name and what it holds.
func packed(parts ...string) ([]byte, error) {
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for i := 0; i < len(parts); i += 2 {
		w, err := z.Create(parts[i])
		if err != nil {
			return nil, err
		}
		if _, err := w.Write([]byte(parts[i+1])); err != nil {
			return nil, err
		}
	}
	err := z.Close()
	return out.Bytes(), err
}

// each writes one line for each of some strings.
func each(format string, all []string) string {
	var out strings.Builder
	for _, s := range all {
		fmt.Fprintf(&out, format, html.EscapeString(s))
	}
	return out.String()
}

// table writes rows of cells.
func table(rows [][]string, row, cell string) string {
	var out strings.Builder
	for _, r := range rows {
		fmt.Fprintf(&out, row, each(cell, r))
	}
	return out.String()
}

func docx(t text) ([]byte, error) {
	const paragraph = `<w:p><w:r><w:t>%s</w:t></w:r></w:p>`
	return packed("[Content_Types].xml", `<Types/>`,
		"word/document.xml", `<w:document xmlns:w="w"><w:body><w:p><w:pPr><w:pStyle w:val="Heading1"/></w:pPr><w:r><w:t>`+t.title+`</w:t></w:r></w:p>`+
			each(paragraph, t.lines)+`<w:tbl>`+table(t.rows, `<w:tr>%s</w:tr>`, `<w:tc>`+paragraph+`</w:tc>`)+`</w:tbl></w:body></w:document>`,
		"word/styles.xml", `<w:styles xmlns:w="w"><w:style w:styleId="Heading1"><w:name w:val="heading 1"/></w:style></w:styles>`)
}

func odt(t text) ([]byte, error) {
	return packed("mimetype", "application/vnd.oasis.opendocument.text",
		"content.xml", `<o:d xmlns:o="o"><o:text><o:h o:outline-level="1">`+t.title+`</o:h>`+each(`<o:p>%s</o:p>`, t.lines)+
			`<o:table>`+table(t.rows, `<o:table-row>%s</o:table-row>`, `<o:table-cell><o:p>%s</o:p></o:table-cell>`)+`</o:table></o:text></o:d>`)
}

func ods(t text) ([]byte, error) {
	rows := append([][]string{}, t.rows...)
	for _, line := range t.lines {
		rows = append(rows, []string{line})
	}
	return packed("mimetype", "application/vnd.oasis.opendocument.spreadsheet",
		"content.xml", `<o:d xmlns:o="o"><o:spreadsheet><o:table o:name="`+t.title+`">`+table(rows, `<o:table-row>%s</o:table-row>`, `<o:table-cell><o:p>%s</o:p></o:table-cell>`)+`</o:table></o:spreadsheet></o:d>`)
}

func pptx(t text) ([]byte, error) {
	return packed("[Content_Types].xml", `<Types/>`,
		"ppt/presentation.xml", `<p:presentation xmlns:p="p" xmlns:r="r"><p:sldIdLst><p:sldId id="256" r:id="rId1"/></p:sldIdLst></p:presentation>`,
		"ppt/_rels/presentation.xml.rels", `<Relationships><Relationship Id="rId1" Target="slides/slide1.xml"/></Relationships>`,
		"ppt/slides/slide1.xml", `<p:sld xmlns:p="p" xmlns:a="a"><p:sp><p:ph type="title"/><a:p><a:r><a:t>`+t.title+`</a:t></a:r></a:p></p:sp><p:sp><p:ph idx="1"/>`+
			each(`<a:p><a:r><a:t>%s</a:t></a:r></a:p>`, t.lines)+`</p:sp></p:sld>`)
}

func xlsx(t text) ([]byte, error) {
	f := excelize.NewFile()
	defer f.Close()
	if err := f.SetSheetName("Sheet1", t.title); err != nil {
		return nil, err
	}
	row := 1
	for _, line := range t.lines {
		f.SetCellValue(t.title, fmt.Sprintf("A%d", row), line)
		row += 2
	}
	for _, r := range t.rows {
		f.SetSheetRow(t.title, fmt.Sprintf("A%d", row), &r)
		row++
	}
	var out bytes.Buffer
	err := f.Write(&out)
	return out.Bytes(), err
}

func epub(t text) ([]byte, error) {
	data, err := page(t)
	if err != nil {
		return nil, err
	}
	return packed("mimetype", "application/epub+zip",
		"META-INF/container.xml", `<container><rootfiles><rootfile full-path="book.opf"/></rootfiles></container>`,
		"book.opf", `<package><metadata><title>`+t.title+`</title></metadata><manifest><item id="a" href="a.xhtml"/></manifest><spine><itemref idref="a"/></spine></package>`,
		"a.xhtml", string(data))
}

func page(t text) ([]byte, error) {
	return []byte(`<!doctype html><html><head><title>` + t.title + `</title></head><body><h1>` + t.title + `</h1>` + each(`<p>%s</p>`, t.lines) +
		`<table>` + table(t.rows, `<tr>%s</tr>`, `<td>%s</td>`) + `</table></body></html>`), nil
}

func markdown(t text) ([]byte, error) {
	out := "# " + t.title + "\n\n" + strings.Join(t.lines, "\n\n") + "\n\n"
	for i, r := range t.rows {
		out += "| " + strings.Join(r, " | ") + " |\n"
		if i == 0 {
			out += strings.Repeat("|---", len(r)) + "|\n"
		}
	}
	return []byte(out), nil
}

func plain(t text) ([]byte, error) {
	return []byte(t.title + "\n" + strings.Repeat("=", len(t.title)) + "\n\n" + strings.Join(t.lines, "\n\n") + "\n"), nil
}

func separated(by string) func(text) ([]byte, error) {
	return func(t text) ([]byte, error) {
		out := "Matter" + by + "What holds\n"
		for _, line := range t.lines {
			out += t.title + by + line + "\n"
		}
		return []byte(out), nil
	}
}

func rtf(t text) ([]byte, error) {
	out := `{\rtf1\ansi{\stylesheet{\s1 heading 1;}}\pard\s1 ` + t.title + `\par\pard `
	for _, line := range t.lines {
		out += line + `\par `
	}
	for _, r := range t.rows {
		out += `\trowd\pard\intbl ` + strings.Join(r, `\cell `) + `\cell\row `
	}
	return []byte(out + `\pard}`), nil
}

func mail(t text) ([]byte, error) {
	body, err := page(t)
	return []byte("From: Edda Brook <edda@halvern.example>\r\nTo: all@halvern.example\r\nSubject: " + t.title + "\r\nDate: Mon, 2 Mar 2026 09:00:00 +0000\r\nMIME-Version: 1.0\r\n" +
		"Content-Type: multipart/mixed; boundary=x\r\n\r\n--x\r\nContent-Type: text/html; charset=utf-8\r\n\r\n" + string(body) + "\r\n" +
		"--x\r\nContent-Type: text/plain\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: attachment; filename=tools.txt\r\n\r\n" +
		base64.StdEncoding.EncodeToString([]byte("Tools of the "+t.title+" stand in the shed.")) + "\r\n--x--\r\n"), err
}

func archive(t text) ([]byte, error) {
	inside, err := docx(t)
	if err != nil {
		return nil, err
	}
	return packed("papers/"+strings.ReplaceAll(t.title, " ", "-")+".docx", string(inside))
}
