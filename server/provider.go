package server

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/coreos/go-oidc/v3/oidc"
	"github.com/labstack/echo/v5"
	"golang.org/x/oauth2"

	"jardinet/access"
)

// A Provider is an OpenID Connect provider at which people sign in (OpenID Connect Core 1.0,
// with PKCE, RFC 7636).
type Provider struct {
	Name   string // as people call it
	Issuer string // address
	Client string // id of this service there
	Secret string // of it; may be empty
	Public string // address that people reach this service at

	mu       sync.Mutex
	verifier *oidc.IDTokenVerifier
	oauth    *oauth2.Config
}

// backPath is where the provider sends people.
const backPath = "/api/v1/session/provider/back"

// discover asks the provider for its addresses, once it answers.
func (p *Provider) discover(ctx context.Context) (*oauth2.Config, *oidc.IDTokenVerifier, error) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.oauth != nil {
		return p.oauth, p.verifier, nil
	}
	// Keys are fetched later with the context given here, which must not end with the request.
	found, err := oidc.NewProvider(context.WithoutCancel(ctx), p.Issuer)
	if err != nil {
		return nil, nil, fmt.Errorf("provider %s: %w", p.Issuer, err)
	}
	endpoint := found.Endpoint()
	if p.Secret == "" {
		endpoint.AuthStyle = oauth2.AuthStyleInParams // which otherwise is found out by trying, and costs the code
	}
	p.verifier = found.Verifier(&oidc.Config{ClientID: p.Client})
	p.oauth = &oauth2.Config{
		ClientID: p.Client, ClientSecret: p.Secret, Endpoint: endpoint, RedirectURL: strings.TrimRight(p.Public, "/") + backPath,
		Scopes: []string{oidc.ScopeOpenID, "profile", "email"},
	}
	return p.oauth, p.verifier, nil
}

// underWayCookie carries what ties the way there to the way back.
const underWayCookie = "jardinet_sign_in"

type underWay struct{ State, Nonce, Verifier string }

// underWayFor is how long somebody may take at the provider.
const underWayFor = 10 * time.Minute

func (s *Server) signInElsewhere(c *echo.Context) error {
	if s.Provider == nil {
		return echo.NewHTTPError(http.StatusNotFound, "people sign in here, with name and passphrase")
	}
	oauth, _, err := s.Provider.discover(c.Request().Context())
	if err != nil {
		s.log.Error("the provider cannot be reached", "error", err)
		return echo.NewHTTPError(http.StatusBadGateway, s.Provider.Name+" cannot be reached; try again later")
	}
	way := underWay{access.NewToken(), access.NewToken(), oauth2.GenerateVerifier()}
	data, err := json.Marshal(way)
	if err != nil {
		return err
	}
	s.setUnderWay(c, string(data), int(underWayFor.Seconds()))
	return c.Redirect(http.StatusFound, oauth.AuthCodeURL(way.State, oidc.Nonce(way.Nonce), oauth2.S256ChallengeOption(way.Verifier)))
}

// setUnderWay keeps what the way back needs in the browser. The cookie comes back with a
// request that begins at the provider, for which SameSite=Strict would be too strict.
func (s *Server) setUnderWay(c *echo.Context, value string, seconds int) {
	http.SetCookie(c.Response(), &http.Cookie{
		Name: underWayCookie, Value: encodeCookie(value), Path: backPath, HttpOnly: true, SameSite: http.SameSiteLaxMode,
		Secure: s.Secure || c.Request().TLS != nil, MaxAge: seconds,
	})
}

// comeBack begins the session of whom the provider vouches for.
func (s *Server) comeBack(c *echo.Context) error {
	if s.Provider == nil {
		return echo.NewHTTPError(http.StatusNotFound, "people sign in here, with name and passphrase")
	}
	subject, name, err := s.vouched(c)
	s.setUnderWay(c, "", -1)
	if err != nil {
		s.log.Warn("a sign-in at the provider failed", "error", err)
		return echo.NewHTTPError(http.StatusUnauthorized, "signing in at "+s.Provider.Name+" did not work; begin again")
	}
	c.Set(objectOf, name)
	session, err := s.registry.SignInAs(c.Request().Context(), subject, name)
	if err != nil {
		return err
	}
	s.setSession(c, session)
	return c.Redirect(http.StatusSeeOther, "/")
}

// vouched finds out for whom the provider vouches: the subject that is theirs for ever, and
// what they are called.
func (s *Server) vouched(c *echo.Context) (subject, name string, err error) {
	ctx := c.Request().Context()
	cookie, err := c.Request().Cookie(underWayCookie)
	if err != nil {
		return "", "", err
	}
	var way underWay
	if err := json.Unmarshal([]byte(decodeCookie(cookie.Value)), &way); err != nil {
		return "", "", err
	}
	if problem := c.QueryParam("error"); problem != "" {
		return "", "", errors.New(problem)
	}
	if way.State == "" || !access.Same(way.State, c.QueryParam("state")) {
		return "", "", errors.New("the state is another one")
	}
	oauth, verifier, err := s.Provider.discover(ctx)
	if err != nil {
		return "", "", err
	}
	token, err := oauth.Exchange(ctx, c.QueryParam("code"), oauth2.VerifierOption(way.Verifier))
	if err != nil {
		return "", "", err
	}
	raw, _ := token.Extra("id_token").(string)
	id, err := verifier.Verify(ctx, raw)
	if err != nil {
		return "", "", err
	}
	if !access.Same(id.Nonce, way.Nonce) {
		return "", "", errors.New("the nonce is another one")
	}
	var claims struct {
		Username string `json:"preferred_username"`
		Email    string `json:"email"`
	}
	if err := id.Claims(&claims); err != nil {
		return "", "", err
	}
	name = claims.Username
	if name == "" {
		name = claims.Email
	}
	if name == "" {
		name = id.Subject
	}
	return id.Issuer + " " + id.Subject, name, nil
}

func encodeCookie(s string) string { return base64.RawURLEncoding.EncodeToString([]byte(s)) }

// decodeCookie gives nothing for what encodeCookie did not write.
func decodeCookie(s string) string {
	data, err := base64.RawURLEncoding.DecodeString(s)
	if err != nil {
		return ""
	}
	return string(data)
}
