package simulated

import (
	"crypto/rand"
	"crypto/rsa"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"net/http"
	"net/url"
	"sync"
	"time"

	"github.com/go-jose/go-jose/v4"
	"github.com/go-jose/go-jose/v4/jwt"
)

// A Provider is a simulated OpenID Connect provider, at which everybody who comes is already
// signed in as the person that is set. It serves at the address that is its issuer.
type Provider struct {
	Issuer string // address of the server that it runs on
	Client string // id of the only service that it knows

	mu     sync.Mutex
	name   string
	key    *rsa.PrivateKey
	grants map[string]grant // by code
}

// A grant is what a code stands for, once.
type grant struct{ name, nonce, challenge, redirect string }

// NewProvider returns a provider; Issuer has to be set before it is used.
func NewProvider(client string) (*Provider, error) {
	key, err := rsa.GenerateKey(rand.Reader, 2048)
	if err != nil {
		return nil, err
	}
	return &Provider{Client: client, key: key, grants: map[string]grant{}}, nil
}

// SignedIn says who comes from now on.
func (p *Provider) SignedIn(name string) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.name = name
}

// ServeHTTP answers discovery, keys, authorisation and token requests.
func (p *Provider) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	switch r.URL.Path {
	case "/.well-known/openid-configuration":
		reply(w, map[string]any{
			"issuer": p.Issuer, "authorization_endpoint": p.Issuer + "/authorize", "token_endpoint": p.Issuer + "/token", "jwks_uri": p.Issuer + "/keys",
			"response_types_supported": []string{"code"}, "subject_types_supported": []string{"public"}, "id_token_signing_alg_values_supported": []string{"RS256"},
		})
	case "/keys":
		reply(w, jose.JSONWebKeySet{Keys: []jose.JSONWebKey{{Key: p.key.Public(), KeyID: "1", Algorithm: "RS256", Use: "sig"}}})
	case "/authorize":
		p.authorize(w, r)
	case "/token":
		p.token(w, r)
	default:
		http.NotFound(w, r)
	}
}

func reply(w http.ResponseWriter, v any) {
	w.Header().Set("Content-Type", "application/json")
	json.NewEncoder(w).Encode(v)
}

func (p *Provider) authorize(w http.ResponseWriter, r *http.Request) {
	q := r.URL.Query()
	if q.Get("client_id") != p.Client || q.Get("code_challenge_method") != "S256" {
		http.Error(w, "unknown client, or no challenge", http.StatusBadRequest)
		return
	}
	code := rand.Text()
	p.mu.Lock()
	p.grants[code] = grant{p.name, q.Get("nonce"), q.Get("code_challenge"), q.Get("redirect_uri")}
	p.mu.Unlock()
	http.Redirect(w, r, q.Get("redirect_uri")+"?"+url.Values{"code": {code}, "state": {q.Get("state")}}.Encode(), http.StatusFound)
}

func (p *Provider) token(w http.ResponseWriter, r *http.Request) {
	code := r.PostFormValue("code")
	p.mu.Lock()
	g, known := p.grants[code]
	delete(p.grants, code)
	p.mu.Unlock()
	sum := sha256.Sum256([]byte(r.PostFormValue("code_verifier")))
	if !known || base64.RawURLEncoding.EncodeToString(sum[:]) != g.challenge || r.PostFormValue("redirect_uri") != g.redirect {
		w.WriteHeader(http.StatusBadRequest)
		reply(w, map[string]string{"error": "invalid_grant"})
		return
	}
	token, err := p.sign(g)
	if err != nil {
		http.Error(w, err.Error(), http.StatusInternalServerError)
		return
	}
	reply(w, map[string]any{"access_token": "none", "token_type": "Bearer", "expires_in": 60, "id_token": token})
}

func (p *Provider) sign(g grant) (string, error) {
	signer, err := jose.NewSigner(jose.SigningKey{Algorithm: jose.RS256, Key: p.key}, (&jose.SignerOptions{}).WithHeader("kid", "1"))
	if err != nil {
		return "", err
	}
	now := time.Now()
	return jwt.Signed(signer).Claims(jwt.Claims{
		Issuer: p.Issuer, Subject: "subject of " + g.name, Audience: jwt.Audience{p.Client}, IssuedAt: jwt.NewNumericDate(now), Expiry: jwt.NewNumericDate(now.Add(time.Minute)),
	}).Claims(map[string]any{"nonce": g.nonce, "preferred_username": g.name}).Serialize()
}
