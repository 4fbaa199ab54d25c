const root = document.documentElement;
const button = document.getElementById('before');
const show = (before) => root.classList.toggle('before', before);
const typing = (event) => event.target instanceof HTMLInputElement;
if (button) {
  button.addEventListener('pointerdown', () => show(true));
  for (const up of ['pointerup', 'pointerleave', 'pointercancel', 'blur']) button.addEventListener(up, () => show(false));
  button.addEventListener('keydown', (event) => {
    if (event.key === ' ' || event.key === 'Enter') show(true);
  });
  button.addEventListener('keyup', () => show(false));
  addEventListener('keydown', (event) => {
    if (event.key.toLowerCase() === 'b' && !event.ctrlKey && !event.metaKey && !typing(event)) show(true);
  });
  addEventListener('keyup', (event) => {
    if (event.key.toLowerCase() === 'b') show(false);
  });
}
