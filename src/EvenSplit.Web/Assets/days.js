// Fields for a day, a month or a point in time: typed as they are written, stepped through by arrow keys, days chosen from the browser's calendar too. The server reads what was typed.
// In a block: scripts of a page share their names.
{
  const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
  const isDay = (element) => element instanceof HTMLInputElement && element.classList.contains('day');

  const kindOf = (field) => ['month', 'moment'].find((kind) => field.classList.contains(kind)) ?? 'day';

  // As it is shown, so that keys can step from it; empty where something else is typed.
  const shown = { day: /^(\d{1,2}) ([A-Z][a-z]{2}) (\d{4})()$/, month: /^()([A-Z][a-z]{2}) (\d{4})()$/, moment: /^(\d{1,2}) ([A-Z][a-z]{2}) (\d{4})( \d{2}:\d{2}(?::\d{2})?)$/ };
  const partsOf = (field) => {
    const [, day, month, year, time] = shown[kindOf(field)].exec(field.value.trim()) ?? [];
    return months.includes(month) ? { day: Number(day || 1), month: months.indexOf(month), year: Number(year), time } : null;
  };
  const isoOf = (field) => {
    const at = partsOf(field);
    return at ? new Date(Date.UTC(at.year, at.month, at.day)).toISOString().slice(0, 10) : '';
  };
  const inWords = (field, iso) => {
    const [year, month, day] = iso.split('-').map(Number);
    return kindOf(field) === 'month' ? `${months[month - 1]} ${year}` : `${day} ${months[month - 1]} ${year}${kindOf(field) === 'moment' ? (partsOf(field)?.time ?? ' 00:00') : ''}`;
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

  const put = (field, words) => {
    field.value = words;
    tellDay(field, '');
    field.dispatchEvent(new Event('input', { bubbles: true }));
  };

  document.addEventListener('change', async (event) => {
    const field = event.target;
    if (!isDay(field)) return;
    const written = field.value.trim();
    if (!written || isoOf(field)) return tellDay(field, '');
    const answer = await fetch(`/${location.pathname.split('/')[1]}?handler=Day&kind=${kindOf(field)}&written=${encodeURIComponent(written)}`);
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
    const at = partsOf(field);
    if (!step || !at) return;
    event.preventDefault();
    // In a field for months an arrow goes a month, and a page a year.
    const [by, days] = kindOf(field) === 'month' ? [step[0] * 12 + step[1], 0] : step;
    const last = new Date(Date.UTC(at.year, at.month + by + 1, 0)).getUTCDate();
    put(field, inWords(field, new Date(Date.UTC(at.year, at.month + by, by ? Math.min(at.day, last) : at.day + days)).toISOString().slice(0, 10)));
  });

  document.addEventListener('DOMContentLoaded', () => {
    for (const field of document.querySelectorAll('input.day:not(.month)')) {
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
        calendar.className = 'picker';
        calendar.tabIndex = -1;
        calendar.setAttribute('aria-hidden', 'true');
        calendar.value = isoOf(field);
        calendar.addEventListener('change', () => calendar.value && put(field, inWords(field, calendar.value)));
        field.parentElement.querySelector('.picker')?.remove();
        field.parentElement.append(calendar);
        field.focus();
        calendar.showPicker();
      });
    }
  });
}
