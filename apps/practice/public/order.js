const form = document.getElementById('order');
const print = document.getElementById('print');
const thing = document.getElementById('thing');
form.addEventListener('submit', (event) => event.preventDefault());
form.addEventListener('input', () => {
  const data = new FormData(form);
  print.textContent = data.get('words');
  print.className = data.get('face') ?? '';
  thing.className = `thing ${data.get('on')}`;
});
