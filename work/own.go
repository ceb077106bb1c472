package work

// OwnFirst returns what a person has of what people keep: their own, in its order, then what others share with them.
func OwnFirst[T any](all []T, own, shared func(T) bool) []T {
	var mine, others []T
	for _, x := range all {
		switch {
		case own(x):
			mine = append(mine, x)
		case shared(x):
			others = append(others, x)
		}
	}
	return append(mine, others...)
}
