/** A short low beep, where the browser lets the page make a sound. */
export function beep() {
  try {
    const audio = new AudioContext();
    const tone = audio.createOscillator();
    tone.frequency.value = 330;
    tone.connect(audio.destination);
    tone.start();
    tone.stop(audio.currentTime + 0.25);
    tone.onended = () => void audio.close();
  } catch {
    // No sound here: the page says it in words too.
  }
}
