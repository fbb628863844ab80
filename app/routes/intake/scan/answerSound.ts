/** Plays a short high tone for yes, two low ones for no; silent where the browser has no sound. */
export function answerSound(ok: boolean) {
  try {
    const audio = new AudioContext();
    const tone = (hertz: number, from: number, seconds: number) => {
      const wave = audio.createOscillator();
      const gain = audio.createGain();
      wave.frequency.value = hertz;
      gain.gain.value = 0.15;
      wave.connect(gain).connect(audio.destination);
      wave.start(audio.currentTime + from);
      wave.stop(audio.currentTime + from + seconds);
    };
    if (ok) tone(1320, 0, 0.09);
    else {
      tone(220, 0, 0.16);
      tone(180, 0.22, 0.22);
    }
    setTimeout(() => void audio.close(), 800);
  } catch {
    // No sound is no error: colour and words answer too.
  }
}
