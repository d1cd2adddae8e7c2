package server

import (
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"jardinet/simulated"
)

// TestProvider signs people in at a simulated provider.
func TestProvider(t *testing.T) {
	provider, err := simulated.NewProvider("jardinet")
	if err != nil {
		t.Fatal(err)
	}
	elsewhere := httptest.NewServer(provider)
	defer elsewhere.Close()
	provider.Issuer = elsewhere.URL
	settings := &Provider{Name: "Halvern sign-in", Issuer: elsewhere.URL, Client: "jardinet"}
	g := startGuarded(t, Options{Provider: settings})
	settings.Public = g.url
	keys := g.fill()
	come := func(name string) (*http.Client, int) {
		provider.SignedIn(name)
		jar, _ := cookiejar.New(nil)
		here, _ := url.Parse(g.url)
		jar.SetCookies(here, []*http.Cookie{{Name: sessionCookie, Value: "ended", Path: "/"}}) // which must not be in the way
		browser := &http.Client{Jar: jar}
		resp, err := browser.Get(g.url + "/api/v1/session/provider")
		if err != nil {
			t.Fatal(err)
		}
		resp.Body.Close()
		return browser, resp.StatusCode
	}
	browser, status := come("gwen")
	if status != http.StatusOK {
		t.Fatalf("gwen comes back with %d", status)
	}
	if all := g.want(200, "GET", "/people", keys["administrator"], ""); !strings.Contains(all, `"name":"gwen","administrator":false,"elsewhere":true`) {
		t.Errorf("the people are %s", all)
	}
	g.want(200, "PUT", "/collections/garden/rights/gwen", keys["owner"], `{"right":"reader"}`)
	resp, err := browser.Get(g.url + "/api/v1/collections/garden")
	if err != nil {
		t.Fatal(err)
	}
	resp.Body.Close()
	if resp.StatusCode != 200 {
		t.Errorf("gwen, let in, gets %s", resp.Status)
	}
	g.want(401, "POST", "/session", "", `{"name":"gwen","passphrase":"any words that come to mind"}`)
	if _, status := come("owner"); status != http.StatusForbidden {
		t.Errorf("somebody with a key's name gets %d", status)
	}
	for _, forged := range []string{"?code=x&state=y", "?error=access_denied", ""} {
		g.want(401, "GET", "/session/provider/back"+forged, "", "")
	}
}

func TestNoProvider(t *testing.T) {
	g := startGuarded(t, Options{})
	g.want(404, "GET", "/session/provider", "", "")
	g.want(404, "GET", "/session/provider/back", "", "")
}
