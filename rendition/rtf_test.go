package rendition

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"reflect"
	"testing"
)

const richText = `{\rtf1\ansi{\fonttbl{\f0 Times;}}{\stylesheet{\s1 heading 1;}}{\info{\title X}}{\*\generator Y;}\pard\s1 Watering\par` +
	`\pard\fi-360\li360 2.\tab Read the meter.\par\pard Open the \b valve\b0  at 7 o\rquote clock, 20\u176 ?C.\par\pard{\listtext\'b7\tab}First\par\pard{\listtext\'b7\tab}Second\par` +
	`\trowd\pard\intbl House\cell Litres\cell\row\pard\intbl Palm\cell 2,400\cell\row\pard Last \'e9t\'e9 {\v hidden}\{.\par{\pict\bin4 }}{}}}`

func TestRichText(t *testing.T) {
	got, err := Read("watering.rtf", []byte(richText))
	if err != nil {
		t.Fatal(err)
	}
	want := []Block{
		{Kind: Heading, Level: 1, Text: "Watering"},
		{Kind: Item, Level: 1, Mark: "2.", Text: "Read the meter."},
		{Text: "Open the valve at 7 o’clock, 20°C."},
		{Kind: Item, Level: 1, Mark: "•", Text: "First"},
		{Kind: Item, Level: 1, Mark: "•", Text: "Second"},
		{Kind: Table, Rows: [][]string{{"House", "Litres"}, {"Palm", "2,400"}}},
		{Text: "Last été {."},
	}
	if !reflect.DeepEqual(got.Blocks, want) {
		t.Errorf("read %+v\nwant %+v", got.Blocks, want)
	}
}

func TestPictures(t *testing.T) {
	drawn := image.NewGray(image.Rect(0, 0, 300, 200))
	drawn.Set(10, 10, color.White)
	var file bytes.Buffer
	if err := png.Encode(&file, drawn); err != nil {
		t.Fatal(err)
	}
	if kind := Named("scan", file.Bytes()); kind != "a picture" {
		t.Errorf("it is %q", kind)
	}
	text, err := Read("scan.png", file.Bytes())
	if err != nil {
		t.Fatal(err)
	}
	first, err := PDF(text)
	if err != nil || !bytes.HasPrefix(first, []byte("%PDF-")) || text.Title != "scan" {
		t.Errorf("it is set as %.20q under the title %q, error %v", first, text.Title, err)
	}
	if again, err := PDF(text); err != nil || !bytes.Equal(first, again) {
		t.Errorf("it is set otherwise the second time, error %v", err)
	}
	if _, err := Read("half.png", file.Bytes()[:60]); err == nil {
		t.Error("half a picture is read")
	}
}
