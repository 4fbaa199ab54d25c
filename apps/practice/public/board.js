const line = document.getElementById('line');
const form = document.getElementById('setting');
const set = () => {
  const { face, size, spacing, color } = form.elements;
  line.className = `line ${face.value}`;
  line.style.fontSize = `${size.value}px`;
  line.style.letterSpacing = `${spacing.value / 100}em`;
  line.style.color = color.value;
};
form.addEventListener('input', set);
set();
