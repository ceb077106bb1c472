package web

import (
	"cmp"
	"context"
	"crypto/rand"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2"

	"meldung/core/ids"
	"meldung/work"
	"meldung/work/accounts"
)

// lifetime is how long a session lasts at most.
const lifetime = 12 * time.Hour

// Idle is how long a session lasts while nobody uses it, where a school does not say otherwise.
const Idle = 2 * time.Hour

// What a session holds.
const (
	ofAccount = "account"
	handleKey = "handle" // names the session to an administrator; it opens nothing
	begunKey  = "begun"  // Unix seconds
	fromKey   = "from"   // the address that it began from
	deviceKey = "device" // what the browser called itself
)

// sessions are signed-in browsers, kept in the database under the hashes of their tokens.
// When each was last used, and who follows the live line in it, is in memory only: a restart
// lets nobody wait for a write, and gives those who were idle their time anew.
type sessions struct {
	*scs.SessionManager
	store *sqlite3store.SQLite3Store
	idle  time.Duration // how long it lasts while nobody uses it
	now   func() time.Time

	mu   sync.Mutex
	used map[string]*use // by handle
}

// use is when a session was last used, and how to end what runs in it.
type use struct {
	last    time.Time
	streams map[int]context.CancelFunc
	next    int
}

func newSessions(office *work.Office, options Options) *sessions {
	clock := options.Clock
	if clock == nil {
		clock = time.Now
	}
	store := sqlite3store.New(office.Store().Sessions())
	m := scs.New()
	m.Store = store
	m.HashTokenInStore = true
	m.Lifetime = lifetime
	m.Cookie.Name = "meldung"
	m.Cookie.HttpOnly = true
	m.Cookie.SameSite = http.SameSiteStrictMode
	m.Cookie.Secure = options.Secure
	return &sessions{SessionManager: m, store: store, idle: cmp.Or(options.Idle, Idle), now: clock, used: map[string]*use{}}
}

// begin makes the session that of an account, under a new token.
func (s *sessions) begin(ctx context.Context, account ids.Account, from caller) error {
	if err := s.RenewToken(ctx); err != nil {
		return err
	}
	handle := rand.Text()
	s.Put(ctx, ofAccount, int64(account))
	s.Put(ctx, handleKey, handle)
	s.Put(ctx, begunKey, s.now().Unix())
	s.Put(ctx, fromKey, from.address)
	s.Put(ctx, deviceKey, from.device)
	s.touch(handle, true)
	return nil
}

// end ends the session and what runs in it.
func (s *sessions) end(ctx context.Context) error {
	s.forget(s.GetString(ctx, handleKey))
	return s.Destroy(ctx)
}

// touch says that a session is used, by somebody rather than by an open page that asks by
// itself, and reports whether it is still good.
func (s *sessions) touch(handle string, byPerson bool) bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	u := s.used[handle]
	now := s.now()
	if u == nil {
		u = &use{last: now, streams: map[int]context.CancelFunc{}}
		s.used[handle] = u
	}
	if now.Sub(u.last) > s.idle {
		return false
	}
	if byPerson {
		u.last = now
	}
	return true
}

// left is how long the session still lasts if nobody uses it, and its end however much it is used.
func (s *sessions) left(ctx context.Context) (unused time.Duration, end time.Time) {
	s.mu.Lock()
	defer s.mu.Unlock()
	unused = s.idle
	if u := s.used[s.GetString(ctx, handleKey)]; u != nil {
		unused -= s.now().Sub(u.last)
	}
	return unused, s.Deadline(ctx)
}

// forget ends what runs in a session and forgets that it was used.
func (s *sessions) forget(handle string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if u := s.used[handle]; u != nil {
		for _, stop := range u.streams {
			stop()
		}
	}
	delete(s.used, handle)
}

// during returns a context that ends with the session; done is called by who no longer needs it.
func (s *sessions) during(ctx context.Context, handle string) (ended context.Context, done func()) {
	ctx, cancel := context.WithCancel(ctx)
	s.mu.Lock()
	defer s.mu.Unlock()
	u := s.used[handle]
	if u == nil {
		cancel()
		return ctx, cancel
	}
	n := u.next
	u.next++
	u.streams[n] = cancel
	return ctx, func() {
		cancel()
		s.mu.Lock()
		defer s.mu.Unlock()
		delete(u.streams, n)
	}
}

// Session is a browser that is signed in.
type Session struct {
	Handle  string      `json:"handle" doc:"Names it; it opens nothing"`
	Account ids.Account `json:"account"`
	Begun   string      `json:"begun" doc:"Date and time, in the server's zone"`
	Used    string      `json:"used" doc:"When somebody last did something in it; empty where that was before the last start"`
	From    string      `json:"from" doc:"The address that it began from"`
	Device  string      `json:"device" doc:"What the browser called itself"`
	Own     bool        `json:"own" doc:"It is the one that asks"`
}

// kept is a session as it is stored: under the hash of its token.
type kept struct {
	hash    string
	handle  string
	account ids.Account
	values  map[string]any
}

// all returns the stored sessions that belong to an account.
func (s *sessions) all() ([]kept, error) {
	stored, err := s.store.All()
	if err != nil {
		return nil, fmt.Errorf("reading the sessions: %w", err)
	}
	var out []kept
	for hash, text := range stored {
		_, values, err := s.Codec.Decode(text)
		if err != nil {
			return nil, fmt.Errorf("reading a session: %w", err)
		}
		one := kept{hash: hash, values: values}
		one.handle, _ = values[handleKey].(string)
		if account, _ := values[ofAccount].(int64); account != 0 {
			one.account = ids.Account(account)
			out = append(out, one)
		}
	}
	return out, nil
}

// list returns the sessions that have not ended, the latest first.
func (s *sessions) list(ctx context.Context) ([]Session, error) {
	stored, err := s.all()
	if err != nil {
		return nil, err
	}
	own := s.GetString(ctx, handleKey)
	out := []Session{}
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, k := range stored {
		one := Session{Handle: k.handle, Account: k.account, Own: k.handle == own}
		if u := s.used[k.handle]; u != nil {
			if s.now().Sub(u.last) > s.idle {
				continue
			}
			one.Used = u.last.Format(stamp)
		}
		begun, _ := k.values[begunKey].(int64)
		one.Begun = time.Unix(begun, 0).Format(stamp)
		one.From, _ = k.values[fromKey].(string)
		one.Device, _ = k.values[deviceKey].(string)
		out = append(out, one)
	}
	slices.SortFunc(out, func(a, b Session) int {
		return cmp.Or(strings.Compare(b.Begun, a.Begun), strings.Compare(a.Handle, b.Handle))
	})
	return out, nil
}

const stamp = "2006-01-02 15:04"

// endWhere ends the sessions of which which is true, and returns how many they were.
func (s *sessions) endWhere(which func(handle string, account ids.Account) bool) (int, error) {
	stored, err := s.all()
	if err != nil {
		return 0, err
	}
	ended := 0
	for _, k := range stored {
		if !which(k.handle, k.account) {
			continue
		}
		s.forget(k.handle)
		if err := s.store.Delete(k.hash); err != nil {
			return ended, fmt.Errorf("ending a session: %w", err)
		}
		ended++
	}
	return ended, nil
}

// endOthers ends every session of an account but the one that asks.
func (s *sessions) endOthers(ctx context.Context, account ids.Account) error {
	own := s.GetString(ctx, handleKey)
	_, err := s.endWhere(func(handle string, of ids.Account) bool { return of == account && handle != own })
	return err
}

// signedIn returns who a request's session belongs to. A session that nobody has used for
// long has ended.
func (s *server) signedIn(ctx context.Context, byPerson bool) (p work.Person, oneTime bool, err error) {
	account := ids.Account(s.sessions.GetInt64(ctx, ofAccount))
	if account == 0 {
		return p, false, errSignIn
	}
	if !s.sessions.touch(s.sessions.GetString(ctx, handleKey), byPerson) {
		if err := s.sessions.end(ctx); err != nil {
			return p, false, err
		}
		return p, false, errSignIn
	}
	return accounts.PersonOf(ctx, s.office, account)
}

var errSignIn = &work.Error{Kind: work.Refused, Message: "sign in first"}
