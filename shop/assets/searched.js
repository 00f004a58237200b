// Tells Understudy what was searched for and how much there was of it: nothing of whom.
{
  const { to, words, found } = document.currentScript.dataset;
  const isAskedNotTo = navigator.doNotTrack === '1' || navigator.globalPrivacyControl;
  if (words.trim() !== '' && !isAskedNotTo)
    navigator.sendBeacon(`${to}/v1/searches`, JSON.stringify({ id: crypto.randomUUID(), words, found: Number(found) }));
}
