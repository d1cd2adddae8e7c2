package digest

import (
	"testing"

	"jardinet/layout"
	"jardinet/text"
)

func isStaff(name string) bool { return name == "Staff" }

func TestDuties(t *testing.T) {
	for _, test := range []struct {
		language text.Language
		s        string
		force    Force
		who      string
	}{
		{"en", "The contractor must arrive within six hours.", Must, "The contractor"},
		{"en", "If frost is forecast, the duty gardener must close the vents.", Must, "the duty gardener"},
		{"en", "Visitors must not feed the fish.", MustNot, "Visitors"},
		{"en", "Visitors, including members, must show a ticket.", Must, "Visitors"},
		{"en", "The keeper and the deputy shall sign the register.", Must, "The keeper and the deputy"},
		{"en", "The gate is locked and the warden has to ring the bell.", Must, "the warden"},
		{"en", "Do not open the door.", MustNot, ""},
		{"en", "Cleaning is done by hand, and never with wet hands.", MustNot, ""},
		{"en", "The drying room and the cold store are never shown.", MustNot, "The drying room and the cold store"},
		{"en", "Staff do not fight a fire in store C1.", MustNot, "Staff"},
		{"en", "Medicines do not count.", "", ""},
		{"en", "Trains run from May to September.", "", ""},
		{"en", "No train enters a section without its staff.", MustNot, "No train"},
		{"en", "The Vault Keeper, Dr Ilse Brandvold, is answerable for every accession.", Must, "The Vault Keeper"},
		{"en", "Seed that has been dried and sealed may stay out for four hours.", May, "Seed that has been dried and sealed"},
		{"en", "No seed is given from accessions with fewer than 500 seeds.", MustNot, "No seed"},
		{"en", "No one who is pregnant, or who has a heart condition, enters the cold store.", MustNot, "No one"},
		{"en", "Nobody came to the fair, and more than 200 need the agreement of the Director.", Must, "more than 200"},
		{"en", "No one may enter the vault alone.", MustNot, "No one"},
		{"en", "Staff may leave at noon on Fridays.", May, "Staff"},
		{"en", "The pump may fail in frost.", "", ""},
		{"en", "Leaves may be caused to fall.", "", ""},
		{"en", "Members need not pay.", May, "Members"},
		{"en", "Smoking is forbidden in all houses.", MustNot, "Smoking"},
		{"en", "Gloves should be worn in the nursery.", Should, "Gloves"},
		{"en", "The pond is 1.4 m deep.", "", ""},
		{"en", "Must staff sign the register?", "", ""},
		{"fr", "Les visiteurs ne doivent pas nourrir les poissons.", MustNot, "Les visiteurs"},
		{"fr", "Le gardien doit fermer la porte.", Must, "Le gardien"},
		{"de", "Besucher dürfen die Pflanzen nicht berühren.", MustNot, "Besucher"},
		{"de", "Der Wart muss die Tür schließen.", Must, "Der Wart"},
	} {
		d, ok := dutyIn(&Quote{Text: test.s, language: test.language}, isStaff)
		if ok != (test.force != "") || ok && (d.Force != test.force || d.Who != test.who) {
			t.Errorf("%q: %q %q", test.s, d.Force, d.Who)
		}
	}
}

func TestNumberOfARequirement(t *testing.T) {
	d, ok := dutyIn(&Quote{Text: "(b) The keeper must sign.", Kind: layout.ListItem, First: true, Section: []string{"3 Keys", "3.2 Handing over"}, language: "en"}, isStaff)
	if !ok || d.Number != "3.2 (b)" || d.Who != "The keeper" {
		t.Errorf("the duty is %+v", d)
	}
	if d, _ := dutyIn(&Quote{Text: "The keeper must sign.", Section: []string{"3 Keys", "Rule 3.4 Signing"}, language: "en"}, isStaff); d.Number != "3.4" {
		t.Errorf("under a rule the number is %q", d.Number)
	}
	if _, ok := dutyIn(&Quote{Text: "Room · Keys: must be signed for", Kind: layout.Table, language: "en"}, isStaff); ok {
		t.Error("a row of a table is a duty")
	}
}
