// Fields for a day: typed as days are written, stepped through by arrow keys, or chosen from the browser's calendar. The server reads what was typed.
// In a block: scripts of a page share their names.
{
  const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
  const isDay = (element) => element instanceof HTMLInputElement && element.classList.contains('day');

  const inWords = (iso) => {
    const [year, month, day] = iso.split('-').map(Number);
    return `${day} ${months[month - 1]} ${year}`;
  };

  // As it is shown, so that keys can step from it; empty where something else is typed.
  const isoOf = (field) => {
    const [, day, month, year] = /^(\d{1,2}) ([A-Z][a-z]{2}) (\d{4})$/.exec(field.value.trim()) ?? [];
    return months.includes(month) ? `${year}-${String(months.indexOf(month) + 1).padStart(2, '0')}-${day.padStart(2, '0')}` : '';
  };

  const tellDay = (field, words) => {
    const wrap = field.parentElement;
    let line = wrap.parentElement.querySelector('.live');
    if (!line && words) {
      line = document.createElement('span');
      line.className = 'fault live';
      line.setAttribute('role', 'status');
      wrap.after(line);
    }
    if (line) line.textContent = words;
    if (words) field.setAttribute('aria-invalid', 'true');
    else field.removeAttribute('aria-invalid');
  };

  const put = (field, iso) => {
    field.value = inWords(iso);
    tellDay(field, '');
    field.dispatchEvent(new Event('input', { bubbles: true }));
  };

  document.addEventListener('change', async (event) => {
    const field = event.target;
    if (!isDay(field)) return;
    const written = field.value.trim();
    if (!written || isoOf(field)) return tellDay(field, '');
    const answer = await fetch(`/${location.pathname.split('/')[1]}?handler=Day&written=${encodeURIComponent(written)}`);
    // It may have been typed over meanwhile, or the page may be one that does not ask.
    if (field.value.trim() !== written || !(answer.ok || answer.status === 422)) return;
    const text = await answer.text();
    if (answer.ok) put(field, text);
    else tellDay(field, text);
  });

  document.addEventListener('keydown', (event) => {
    const field = event.target;
    if (!isDay(field)) return;
    if (event.altKey && event.key === 'ArrowDown') {
      event.preventDefault();
      return field.parentElement.querySelector('.pick')?.click();
    }
    const step = { ArrowUp: [0, 1], ArrowDown: [0, -1], PageUp: [1, 0], PageDown: [-1, 0] }[event.key];
    const iso = isoOf(field);
    if (!step || !iso) return;
    event.preventDefault();
    const [year, month, day] = iso.split('-').map(Number);
    const last = new Date(Date.UTC(year, month + step[0], 0)).getUTCDate();
    put(field, new Date(Date.UTC(year, month - 1 + step[0], step[0] ? Math.min(day, last) : day + step[1])).toISOString().slice(0, 10));
  });

  document.addEventListener('DOMContentLoaded', () => {
    for (const field of document.querySelectorAll('input.day')) {
      const pick = document.createElement('button');
      pick.type = 'button';
      pick.className = 'pick';
      // By keyboard the field itself opens it: Alt and the arrow down.
      pick.tabIndex = -1;
      pick.setAttribute('aria-hidden', 'true');
      pick.title = 'Calendar (Alt ↓)';
      pick.innerHTML = '<svg viewBox="0 0 16 16"><path d="M1.5 3.5h13v11h-13zM1.5 6.5h13M5 1.5v3M11 1.5v3M4 9.5h2M7 9.5h2M10 9.5h2M4 12h2M7 12h2" /></svg>';
      field.parentElement.append(pick);
      pick.addEventListener('click', () => {
        const calendar = document.createElement('input');
        calendar.type = 'date';
        calendar.className = 'calendar';
        calendar.tabIndex = -1;
        calendar.setAttribute('aria-hidden', 'true');
        calendar.value = isoOf(field);
        calendar.addEventListener('change', () => calendar.value && put(field, calendar.value));
        field.parentElement.querySelector('.calendar')?.remove();
        field.parentElement.append(calendar);
        field.focus();
        calendar.showPicker();
      });
    }
  });
}
