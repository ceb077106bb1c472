package outside

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net"
	"slices"
	"strings"
	"time"

	mail "github.com/wneessen/go-mail"

	"meldung/work/messages"
)

// MailSettings are how e-mails leave.
type MailSettings struct {
	Host     string
	Port     int
	From     string
	User     string // empty without signing in
	Password string
	Plain    bool // without TLS, for a server on the same machine
}

// Mail carries e-mails by SMTP.
type Mail struct {
	settings MailSettings
	options  []mail.Option
}

// NewMail returns a carrier of e-mails. TLS is required unless the server is on the same machine
// and it is asked to be without.
func NewMail(s MailSettings) (*Mail, error) {
	if err := mail.NewMsg().From(s.From); err != nil {
		return nil, fmt.Errorf("the sender of e-mails %q is no address", s.From)
	}
	if s.Plain && !local(s.Host) {
		return nil, errors.New("e-mails go without TLS to this machine alone")
	}
	c := &Mail{settings: s, options: []mail.Option{mail.WithPort(s.Port), mail.WithTLSPolicy(mail.TLSMandatory)}}
	switch {
	case s.Plain:
		c.options = append(c.options, mail.WithTLSPolicy(mail.NoTLS))
	case s.Port == 465:
		c.options = append(c.options, mail.WithSSL())
	}
	if s.User != "" {
		c.options = append(c.options, mail.WithSMTPAuth(mail.SMTPAuthAutoDiscover), mail.WithUsername(s.User), mail.WithPassword(s.Password))
	}
	if _, err := mail.NewClient(s.Host, c.options...); err != nil {
		return nil, fmt.Errorf("the server of e-mails can't be set up so: %w", err)
	}
	return c, nil
}

func local(host string) bool {
	ip := net.ParseIP(host)
	return host == "localhost" || (ip != nil && ip.IsLoopback())
}

// Carry sends one e-mail. What the server says is for good (5xx to an address or a message) is
// not tried again.
func (c *Mail) Carry(ctx context.Context, m messages.Outgoing) (reference string, err error) {
	msg := mail.NewMsg()
	if err := msg.From(c.settings.From); err != nil {
		return "", messages.Permanent(err)
	}
	if err := msg.To(m.Address); err != nil {
		return "", messages.Permanent(errors.New("that is no e-mail address"))
	}
	msg.Subject(strings.Join(strings.Fields(m.Subject), " "))
	msg.SetMessageIDWithValue(m.Key + "@" + senderDomain(c.settings.From))
	msg.SetDate()
	msg.SetBodyString(mail.TypeTextPlain, m.Text)
	for _, f := range m.Files {
		if err := msg.AttachReader(f.Name, bytes.NewReader(f.Content), mail.WithFileContentType(mail.ContentType(f.Type))); err != nil {
			return "", messages.Permanent(errors.New("what goes with it could not be put into it"))
		}
	}
	options := c.options
	if end, ok := ctx.Deadline(); ok { // the library watches the clock, not the context, once it is connected
		options = append(slices.Clone(options), mail.WithTimeout(max(time.Millisecond, time.Until(end))))
	}
	client, err := mail.NewClient(c.settings.Host, options...)
	if err != nil {
		return "", messages.Permanent(errors.New("the server of e-mails is not set up"))
	}
	switch err := client.DialAndSendWithContext(ctx, msg); {
	case err == nil:
		return "", nil
	case permanently(err):
		return "", messages.Permanent(errors.New("the server of e-mails refused it: " + refusalOf(err)))
	case ctx.Err() != nil:
		return "", errors.New("the server of e-mails did not answer in time")
	default:
		return "", errors.New("the server of e-mails did not take it")
	}
}

// permanently reports whether the server has refused the message itself.
func permanently(err error) bool {
	var sent *mail.SendError
	return errors.As(err, &sent) && !sent.IsTemp() && sent.ErrorCode() >= 500
}

// refusalOf is what the server said, without the addresses that the library adds.
func refusalOf(err error) string {
	var sent *mail.SendError
	if errors.As(err, &sent) {
		return fmt.Sprintf("%d", sent.ErrorCode())
	}
	return "it said no"
}

func senderDomain(from string) string {
	_, domain, found := strings.Cut(strings.TrimRight(from, "> "), "@")
	if !found || domain == "" {
		return "localhost"
	}
	return domain
}
