package main

import (
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"meldung/outside"
	"meldung/web"
	"meldung/work"
	"meldung/work/messages"
)

// The environment holds what is secret, so that it stands in no list of processes.
const (
	mailPasswordVariable = "MELDUNG_SMTP_PASSWORD"
	textSecretVariable   = "MELDUNG_TEXT_SECRET"
)

// carriers are how messages leave the house, as the command is told.
type carriers struct {
	simulated string
	mail      outside.MailSettings
	texts     string // address to which texts are posted
}

func (c *carriers) flags(cmd *cobra.Command) {
	f := cmd.Flags()
	f.StringVar(&c.mail.Host, "smtp-host", "", "server that takes e-mails; its password, if any, is in "+mailPasswordVariable)
	f.IntVar(&c.mail.Port, "smtp-port", 587, "its port; 465 speaks TLS from the beginning, others are asked for it")
	f.StringVar(&c.mail.From, "smtp-from", "", "the sender of e-mails")
	f.StringVar(&c.mail.User, "smtp-user", "", "name to sign in to it with; empty without")
	f.BoolVar(&c.mail.Plain, "smtp-plain", false, "without TLS, to a server on this machine")
	f.StringVar(&c.texts, "text-url", "", "address to which texts are posted; the secret shared with it is in "+textSecretVariable)
	f.StringVar(&c.simulated, "gateway", "", "\"simulated\" invents what becomes of messages, for trying the program out; every page says so")
	cmd.MarkFlagsRequiredTogether("smtp-host", "smtp-from")
	cmd.MarkFlagsMutuallyExclusive("gateway", "smtp-host")
	cmd.MarkFlagsMutuallyExclusive("gateway", "text-url")
}

// set are the carriers that a school has, ready for use.
type set struct {
	byChannel  map[string]messages.Carrier
	simulation messages.Simulation // nil for none
	secret     string              // shared with the carrier of texts, which signs its reports by it
	lines      web.Lines
}

// ready makes the carriers ready, or says what is wrong with how they are set up.
func (c *carriers) ready() (set, error) {
	out := set{byChannel: map[string]messages.Carrier{}, lines: web.Lines{Text: web.NoLine, EMail: web.NoLine}}
	switch c.simulated {
	case "":
	case "simulated":
		out.simulation, out.lines = outside.Simulated{}, web.Lines{Text: web.Simulated, EMail: web.Simulated}
		return out, nil
	default:
		return out, fmt.Errorf("there is no gateway %q; there is \"simulated\"", c.simulated)
	}
	if c.mail.Host != "" {
		c.mail.Password = os.Getenv(mailPasswordVariable)
		if c.mail.User != "" && c.mail.Password == "" {
			return out, errors.New("e-mails are sent with a name and without a password: " + mailPasswordVariable + " is empty")
		}
		carrier, err := outside.NewMail(c.mail)
		if err != nil {
			return out, err
		}
		out.byChannel[work.ByEMail], out.lines.EMail = carrier, web.Carried
	}
	if c.texts != "" {
		out.secret = os.Getenv(textSecretVariable)
		carrier, err := outside.NewTexts(c.texts, out.secret)
		if err != nil {
			return out, err
		}
		out.byChannel[work.ByText], out.lines.Text = carrier, web.Carried
	}
	return out, nil
}
