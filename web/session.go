package web

import (
	"context"
	"net/http"
	"sync"
	"time"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2"

	"meldung/work"
)

// sessions are signed-in browsers, kept in the database, and the failed tries
// that slow guessing down.
type sessions struct {
	*scs.SessionManager
	mu    sync.Mutex
	tries map[string]tries
}

type tries struct {
	failed int
	last   time.Time
}

// freeTries are allowed before a name has to wait.
const freeTries = 5

func newSessions(office *work.Office, secure bool) *sessions {
	m := scs.New()
	m.Store = sqlite3store.New(office.Store().SQL())
	m.Lifetime = 14 * time.Hour
	m.Cookie.Name = "meldung"
	m.Cookie.HttpOnly = true
	m.Cookie.SameSite = http.SameSiteStrictMode
	m.Cookie.Secure = secure
	return &sessions{SessionManager: m, tries: map[string]tries{}}
}

// wait returns how long a username has to wait before the next try.
func (s *sessions) wait(username string) time.Duration {
	s.mu.Lock()
	defer s.mu.Unlock()
	t := s.tries[username]
	if t.failed < freeTries {
		return 0
	}
	pause := min(time.Duration(1)<<min(t.failed-freeTries, 8)*time.Second, 5*time.Minute)
	return time.Until(t.last.Add(pause))
}

func (s *sessions) tried(username string, ok bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if ok {
		delete(s.tries, username)
		return
	}
	if len(s.tries) > 10_000 {
		clear(s.tries)
	}
	s.tries[username] = tries{s.tries[username].failed + 1, time.Now()}
}

// signedIn returns who a request's session belongs to.
func (s *server) signedIn(ctx context.Context) (p work.Person, oneTime bool, err error) {
	account := s.sessions.GetInt64(ctx, "account")
	if account == 0 {
		return p, false, &work.Error{Kind: work.Refused, Words: "sign in first"}
	}
	return s.office.PersonOf(ctx, account)
}
