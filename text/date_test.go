package text

import (
	"fmt"
	"strings"
	"testing"
)

func TestDates(t *testing.T) {
	for s, want := range map[string]string{
		"On 30 September 2025 it held 4,812 accessions.":           "2025-09-30",
		"Applications close on March 3, 2026.":                     "2026-03-03",
		"Every 31 March the register is closed.":                   "--03-31",
		"Open from 1 April to 30 September 2026.":                  "2026-04-01 2026-09-30",
		"The fair is on 14 and 15 June 2026.":                      "2026-06-14 2026-06-15",
		"Version of 2025-11-02, replaced in 2026-01.":              "2025-11-02 2026-01",
		"J.1.2 January 1997: initial protocol tests":               "1997-01",
		"Begun in early 2003, sent 2001-09-28T06:45:00Z.":          "2003 2001-09-28",
		"Third edition, October 2025":                              "2025-10",
		"It was built in 2009 and enlarged in 2018.":               "2009 2018",
		"The house may stay open; 12 may enter.":                   "",
		"Section 3 of 2021 applies to 4,812 plants.":               "",
		"Gültig ab 1. März 2026, bis 31.12.2026.":                  "2026-03-01 2026-12-31",
		"Ouvert du 1er avril au 30 septembre 2026.":                "2026-04-01 2026-09-30",
		"Paid on 31 Feb 2025.":                                     "2025-02",
		"Sown in March and April, until mid May.":                  "--03 --04 --05",
		"Collected in March, July and November.":                   "--03 --07 --11",
		"Made once a year in February, and he may march in.":       "--02",
		"Delivered 05/13/2025 or 13/05/2025":                       "2025-05-13 2025-05-13",
		"In May 2025 staff may leave early; the Mar lamp is old. ": "2025-05",
	} {
		var got []string
		for _, d := range Dates(s) {
			got = append(got, d.String())
		}
		if strings.Join(got, " ") != want {
			t.Errorf("%q names %q, want %q", s, got, want)
		}
	}
	if d := Dates("since 1887")[0]; fmt.Sprint(d.Span) != "{6 10}" {
		t.Errorf("the year stands at %v", d.Span)
	}
}

func TestQuantities(t *testing.T) {
	for s, want := range map[string]string{
		"Seed may stay out for no longer than four hours in all.":          "4 hours at most",
		"The set point is −20 °C with a tolerance of two degrees.":         "-20 °C, 2 degrees",
		"It measures 9 by 6 metres and has shelves for 12,000 accessions.": "6 metres, 12000 accessions",
		"At least 60 plants are grown.":                                    "60 plants at least",
		"a moisture content between 3 and 7 per cent":                      "3-7 per cent",
		"Sales came to £1.62 million, 6.5 % more.":                         "1.62e+06 £, 6.5 %",
		"See section 3, page 12 and table 4.":                              "",
		"On 30 September 2025 it held 4,812 accessions of 2,967 species.":  "4812 accessions, 2967 species",
		"Ring extension 200 within 24 h.":                                  "24 h at most",
		"about 40 minutes; up to 2½ hours":                                 "40 minutes about, 2.5 hours at most",
		"Die Temperatur beträgt höchstens 18,5 °C, mindestens 12 Stunden.": "18.5 °C at most, 12 Stunden at least",
		"one of the keepers waits one hour":                                "1 hour",
		"Twenty-five volunteers and a hundred bulbs":                       "25 volunteers, 100 bulbs",
		"The model X-200 needs BS 4987 tiles.":                             "",
		"It is tested once a year, by a second person, for a century.":     "",
		"more than 200 need the agreement; groups of 12 visit on Mondays":  "",
		"143 requests from 17 countries, from three weeks to three months": "143 requests, 17 countries, 3 weeks, 3 months",
		"2.4 × 10⁶ cells/ml in 8,940 m³, £60 towards glasses":              "2.4e+06 cells/ml, 8940 m³, 60 £",
		"planted in 1896 and 38 metres high; train four more people":       "38 metres, 4 more people",
		"warmer than −16 °C or below 5 %":                                  "-16 °C above, 5 % below",
		"For 2 metres of hose":                                             "2 metres",
		"30 kg/m³ of soil":                                                 "30 kg/m³",
	} {
		var got []string
		for _, q := range Quantities(s) {
			one := fmt.Sprint(q.Value)
			if q.To != q.Value {
				one += fmt.Sprint("-", q.To)
			}
			got = append(got, strings.TrimSpace(one+" "+q.Unit+" "+string(q.Bound)))
		}
		if strings.Join(got, ", ") != want {
			t.Errorf("%q has %q, want %q", s, strings.Join(got, ", "), want)
		}
	}
}
