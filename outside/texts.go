package outside

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"time"

	"meldung/work/messages"
)

// Texts carries texts by a signed POST of JSON to the school's provider, as docs/carriers.md
// describes it.
type Texts struct {
	address string
	secret  string
	client  *http.Client
}

// NewTexts returns a carrier that posts to an address; it refuses one that is none, and a secret
// that is short.
func NewTexts(address, secret string) (*Texts, error) {
	u, err := url.Parse(address)
	if err != nil || u.Host == "" || (u.Scheme != "https" && u.Scheme != "http") {
		return nil, errors.New("the address of the carrier of texts is no http or https address")
	}
	if len(secret) < 16 {
		return nil, errors.New("the secret shared with the carrier of texts has at least 16 characters")
	}
	return &Texts{address: address, secret: secret, client: &http.Client{
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}}, nil
}

// text is what is posted.
type text struct {
	Key    string `json:"key"`
	To     string `json:"to"`
	Text   string `json:"text"`
	Sender string `json:"sender"`
}

// mostAnswer bounds what is read of an answer.
const mostAnswer = 16 << 10

// Carry posts one text. A carrier that can't be reached, answers too late, or with 408, 425, 429 or
// 5xx is tried again; any other answer than 2xx is for good.
func (c *Texts) Carry(ctx context.Context, m messages.Outgoing) (reference string, err error) {
	body, err := json.Marshal(text{m.Key, m.Address, m.Text, m.Subject})
	if err != nil {
		return "", messages.Permanent(err)
	}
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, c.address, bytes.NewReader(body))
	if err != nil {
		return "", messages.Permanent(errors.New("the carrier's address can't be asked"))
	}
	timestamp, signature := Sign(c.secret, body, time.Now())
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set("Idempotency-Key", m.Key)
	request.Header.Set(TimestampHeader, timestamp)
	request.Header.Set(SignatureHeader, signature)
	answer, err := c.client.Do(request)
	if err != nil {
		return "", withoutAddress(err)
	}
	defer answer.Body.Close()
	said, err := io.ReadAll(io.LimitReader(answer.Body, mostAnswer))
	if err != nil {
		return "", fmt.Errorf("the carrier's answer broke off: %w", withoutAddress(err))
	}
	switch {
	case answer.StatusCode/100 == 2:
		var taken struct {
			Reference string `json:"reference"`
		}
		_ = json.Unmarshal(said, &taken) // a carrier need not name it
		return taken.Reference, nil
	case answer.StatusCode >= 500, answer.StatusCode == http.StatusRequestTimeout, answer.StatusCode == http.StatusTooEarly, answer.StatusCode == http.StatusTooManyRequests:
		return "", fmt.Errorf("the carrier answered %d", answer.StatusCode)
	default:
		return "", messages.Permanent(fmt.Errorf("the carrier refused it with %d", answer.StatusCode))
	}
}

// withoutAddress drops the address from an error, which may hold what is secret.
func withoutAddress(err error) error {
	var asked *url.Error
	if errors.As(err, &asked) {
		err = asked.Err
	}
	if errors.Is(err, context.DeadlineExceeded) {
		return errors.New("the carrier did not answer in time")
	}
	return fmt.Errorf("the carrier can't be reached: %w", err)
}
