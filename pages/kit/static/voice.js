// What is said aloud where somebody asked for it: the next act with its setting, and each verdict.
export const say = (words) => {
  if (document.body.dataset.voice !== "aloud" || !window.speechSynthesis || !words) return;
  speechSynthesis.cancel(); // what stood before is past
  const u = new SpeechSynthesisUtterance(words);
  u.lang = document.documentElement.lang;
  speechSynthesis.speak(u);
};
