for (const choice of document.querySelectorAll('select[data-for]')) {
  const line = document.getElementById(choice.dataset.for);
  const set = () => (line.className = `line ${choice.value}`);
  choice.addEventListener('change', set);
  set();
}
// The cutting table has no table of characters: whatever the keyboard lacks is pasted.
for (const line of document.querySelectorAll('[data-paste-only]'))
  line.addEventListener('beforeinput', (event) => {
    if (event.inputType === 'insertText' && /[^ -~]/.test(event.data ?? '')) event.preventDefault();
  });
