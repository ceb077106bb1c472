package web

import (
	"context"
	"net/http"
	"time"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2"

	"meldung/core/ids"
	"meldung/work"
	"meldung/work/accounts"
)

// sessions are signed-in browsers, kept in the database.
type sessions struct {
	*scs.SessionManager
}

func newSessions(office *work.Office, secure bool) *sessions {
	m := scs.New()
	m.Store = sqlite3store.New(office.Store().SQL())
	m.Lifetime = 14 * time.Hour
	m.Cookie.Name = "meldung"
	m.Cookie.HttpOnly = true
	m.Cookie.SameSite = http.SameSiteStrictMode
	m.Cookie.Secure = secure
	return &sessions{m}
}

// signedIn returns who a request's session belongs to.
func (s *server) signedIn(ctx context.Context) (p work.Person, oneTime bool, err error) {
	account := ids.Account(s.sessions.GetInt64(ctx, "account"))
	if account == 0 {
		return p, false, &work.Error{Kind: work.Refused, Message: "sign in first"}
	}
	return accounts.PersonOf(ctx, s.office, account)
}
