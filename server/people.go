package server

import (
	"net/http"
	"time"

	"github.com/labstack/echo/v5"

	"jardinet/api"
)

func (s *Server) session(c *echo.Context) error {
	out := s.registry.Session(c.Request().Context())
	if s.Provider != nil {
		out.Provider = s.Provider.Name
	}
	return c.JSON(http.StatusOK, out)
}

// signIn begins a session, whose secret only the browser gets, in a cookie that scripts cannot read.
func (s *Server) signIn(c *echo.Context) error {
	var in struct {
		Name       string `json:"name"`
		Passphrase string `json:"passphrase"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	c.Set(objectOf, in.Name)
	session, err := s.registry.SignIn(c.Request().Context(), in.Name, in.Passphrase, c.RealIP())
	if err != nil {
		return err
	}
	s.setSession(c, session)
	return c.NoContent(http.StatusNoContent)
}

// setSession hands out a session; an empty one ends it. That it is over is known to the
// service, so that the cookie need not expire by itself.
func (s *Server) setSession(c *echo.Context, session string) {
	cookie := &http.Cookie{
		Name: sessionCookie, Value: session, Path: "/", HttpOnly: true, SameSite: http.SameSiteStrictMode,
		Secure: s.Secure || c.Request().TLS != nil, MaxAge: int((7 * 24 * time.Hour).Seconds()),
	}
	if session == "" {
		cookie.MaxAge = -1
	}
	http.SetCookie(c.Response(), cookie)
}

func (s *Server) signOut(c *echo.Context) error {
	if cookie, err := c.Request().Cookie(sessionCookie); err == nil {
		if err := s.registry.SignOut(c.Request().Context(), cookie.Value); err != nil {
			return err
		}
	}
	s.setSession(c, "")
	return c.NoContent(http.StatusNoContent)
}

func (s *Server) setPassphrase(c *echo.Context) error {
	var in struct {
		Current string `json:"current"`
		New     string `json:"new"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	if err := s.registry.SetPassphrase(c.Request().Context(), in.Current, in.New); err != nil {
		return err
	}
	s.setSession(c, "")
	return c.NoContent(http.StatusNoContent)
}

func (s *Server) people(c *echo.Context) error {
	all, err := s.registry.People(c.Request().Context())
	if err != nil {
		return err
	}
	return listed(c, "people", all, func(one *api.Person) string { return one.Name })
}

func (s *Server) addPerson(c *echo.Context) error {
	var in api.NewPerson
	if err := body(c, &in); err != nil {
		return err
	}
	c.Set(objectOf, in.Name)
	out, err := s.registry.AddPerson(c.Request().Context(), &in)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusCreated, out)
}

func (s *Server) changePerson(c *echo.Context) error {
	var in api.PersonChange
	if err := body(c, &in); err != nil {
		return err
	}
	out, err := s.registry.ChangePerson(c.Request().Context(), c.Param("person"), &in)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) removePerson(c *echo.Context) error {
	if err := s.registry.RemovePerson(c.Request().Context(), c.Param("person")); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (s *Server) keys(c *echo.Context) error {
	all, err := s.registry.Keys(c.Request().Context())
	if err != nil {
		return err
	}
	return listed(c, "keys", all, func(one *api.Key) string { return one.Name })
}

func (s *Server) createKey(c *echo.Context) error {
	var in api.NewKey
	if err := body(c, &in); err != nil {
		return err
	}
	c.Set(objectOf, in.Name)
	out, err := s.registry.CreateKey(c.Request().Context(), &in)
	if err != nil {
		return err
	}
	c.Response().Header().Set("Cache-Control", "no-store")
	return c.JSON(http.StatusCreated, out)
}

func (s *Server) revokeKey(c *echo.Context) error {
	if err := s.registry.RevokeKey(c.Request().Context(), c.Param("key")); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (s *Server) rights(c *echo.Context) error {
	all, err := s.registry.Rights(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]any{"rights": all})
}

// setRight gives somebody a right in a collection; an empty one takes it away.
func (s *Server) setRight(c *echo.Context) error {
	var in struct {
		Right string `json:"right"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	if err := s.registry.SetRight(c.Request().Context(), c.Param("collection"), c.Param("holder"), in.Right); err != nil {
		return err
	}
	return s.rights(c)
}

func (s *Server) setSharing(c *echo.Context) error {
	var in api.Sharing
	if err := body(c, &in); err != nil {
		return err
	}
	if err := s.service.SetSharing(c.Request().Context(), c.Param("collection"), in); err != nil {
		return err
	}
	return s.collection(c)
}
