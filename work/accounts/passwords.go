package accounts

import (
	_ "embed"
	"strings"

	"meldung/store"
	"meldung/work"
)

// common are passwords that are tried first, a line each (from memory: those that every list of
// them begins with, and what people make of seasons, keys and places of work).
//
//go:embed common.txt
var common string

// shortest is how many characters a password has at least (NIST SP 800-63B asks for eight, from
// memory).
const shortest = 10

// worthy refuses a password that is short, common, or made of the account's own names.
func worthy(password string, a store.Account) error {
	if len([]rune(password)) < shortest {
		return work.Wrongf("a password has at least %d characters; the old one still holds", shortest)
	}
	plain := bare(password)
	for _, word := range strings.Fields(common) {
		if plain == bare(word) {
			return work.Wrongf("that password is one of those that are tried first; the old one still holds")
		}
	}
	for _, own := range append(strings.Fields(a.Name), a.Username) {
		if name := bare(own); len(name) > 2 && strings.ReplaceAll(plain, name, "") == "" {
			return work.Wrongf("that password is your own name; the old one still holds")
		}
	}
	distinct := map[rune]bool{}
	for _, r := range password {
		distinct[r] = true
	}
	if len(distinct) < 4 {
		return work.Wrongf("that password has fewer than four different characters; the old one still holds")
	}
	return nil
}

// leet are figures and signs and the letters that they stand for.
var leet = strings.NewReplacer("0", "o", "1", "l", "3", "e", "4", "a", "5", "s", "7", "t", "@", "a", "$", "s", "!", "i")

// bare writes a password as guesses are made: small letters, figures as the letters that they
// stand for, without what is put behind it.
func bare(text string) string {
	return leet.Replace(strings.TrimRight(strings.ToLower(text), "0123456789.?!*-_ "))
}
