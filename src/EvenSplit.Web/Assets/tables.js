// Every ledger is one component: rows sort by any column, columns can be hidden, and what is shown can be taken away.
const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const fewestRows = 4;
const fewestColumns = 3;

/** The cell as it is read, without what only a screen reader or a button says. */
function textOf(cell) {
  if (!cell) return '';
  const field = cell.querySelector('input:not([type=hidden], [type=checkbox]), select');
  if (field && !cell.textContent.trim()) return field.value;
  const copy = cell.cloneNode(true);
  for (const part of copy.querySelectorAll('.sr-only, button, form, svg, option')) part.remove();
  return copy.textContent.replace(/\s+/g, ' ').trim();
}

/** 3 Nov 2026 or 3 Nov 14:05 as 2026-11-03; empty where it is no day. */
function dayOf(text) {
  const found = /^(\d{1,2}) ([A-Z][a-z]{2})(?: (\d{4}))?(?:,? (\d{2}:\d{2}))?$/.exec(text);
  if (!found || !months.includes(found[2])) return '';
  const day = `${found[3] ?? '0000'}-${String(months.indexOf(found[2]) + 1).padStart(2, '0')}-${found[1].padStart(2, '0')}`;
  return found[4] ? `${day} ${found[4]}` : day;
}

/** 1,234.50 and −€12.00 as a number; a dash is nothing; null where it is no number. */
function numberOf(text) {
  if (text === '–') return 0;
  const plain = text.replace(/[€£$¥%\s,]|[A-Z]{3}/g, '').replace('−', '-');
  return /^-?\d+(\.\d+)?$/.test(plain) ? Number(plain) : null;
}

function compare(one, other) {
  const [a, b] = [numberOf(one), numberOf(other)];
  if (a !== null && b !== null) return a - b;
  const [d, e] = [dayOf(one), dayOf(other)];
  if (d && e) return d < e ? -1 : d > e ? 1 : 0;
  return one.localeCompare(other, 'en', { numeric: true, sensitivity: 'base' });
}

function enhance(table) {
  const heads = [...(table.tHead?.rows ?? [])];
  const rows = [...(table.tBodies[0]?.rows ?? [])];
  if (heads.length !== 1 || table.tBodies.length !== 1 || rows.length < fewestRows || heads[0].cells.length < fewestColumns) return;
  // Rows that belong together, or that span columns, stay as they are.
  if (rows.some((row) => row.cells.length !== heads[0].cells.length || [...row.cells].some((cell) => cell.colSpan > 1 || cell.rowSpan > 1))) return;
  const names = [...heads[0].cells].map((head) => textOf(head));
  // A table that is a form is filled in, not taken away.
  if (rows.some((row) => row.querySelector('input:not([type=checkbox], [type=hidden], [type=radio]), td > select, textarea'))) return;
  if (!table.dataset.paged) sortable(table, heads[0], names);
  tools(table, heads[0], names);
}

function sortable(table, head, names) {
  [...head.cells].forEach((cell, column) => {
    if (!names[column]) return;
    cell.classList.add('sorts');
    cell.tabIndex = 0;
    cell.title = 'Sort by this column';
    cell.addEventListener('keydown', (event) => {
      if (event.key !== 'Enter' && event.key !== ' ') return;
      event.preventDefault();
      cell.click();
    });
    cell.addEventListener('click', () => {
      const down = cell.getAttribute('aria-sort') === 'ascending';
      for (const other of head.cells) other.removeAttribute('aria-sort');
      cell.setAttribute('aria-sort', down ? 'descending' : 'ascending');
      const body = table.tBodies[0];
      const sorted = [...body.rows].map((row) => ({ row, text: textOf(row.cells[column]) })).sort((a, b) => (down ? -1 : 1) * compare(a.text, b.text));
      body.append(...sorted.map((s) => s.row));
    });
  });
}

function tools(table, head, names) {
  const label = table.closest('[aria-label]')?.getAttribute('aria-label') ?? document.querySelector('h1')?.textContent.trim() ?? 'table';
  const key = `columns ${location.pathname.replace(/^\/\d{4}-\d{2}/, '')} ${names.join('|')}`;
  const hidden = new Set(JSON.parse(localStorage.getItem(key) ?? '[]'));
  const bar = document.createElement('div');
  bar.className = 'table-tools';
  bar.setAttribute('role', 'group');
  bar.setAttribute('aria-label', `${label}: columns and files`);

  const columns = document.createElement('details');
  const summary = document.createElement('summary');
  summary.textContent = 'Columns';
  const list = document.createElement('div');
  columns.append(summary, list);
  const show = () => {
    for (const row of [...table.rows]) {
      if (row.cells.length === names.length) [...row.cells].forEach((cell, i) => cell.toggleAttribute('hidden', hidden.has(names[i]) && names[i] !== ''));
    }
    summary.textContent = hidden.size > 0 ? `Columns (${hidden.size} hidden)` : 'Columns';
  };
  const hasSums = table.tFoot && [...table.tFoot.rows].some((row) => row.cells.length !== names.length);
  columns.addEventListener('toggle', () => list.replaceChildren(...names.filter((name) => name).map(choiceOf)));
  function choiceOf(name) {
    const choice = document.createElement('label');
    const box = document.createElement('input');
    box.type = 'checkbox';
    box.checked = !hidden.has(name);
    box.addEventListener('change', () => {
      if (box.checked) hidden.delete(name);
      else hidden.add(name);
      localStorage.setItem(key, JSON.stringify([...hidden]));
      show();
    });
    choice.append(box, ` ${name}`);
    return choice;
  }
  // Sums that span columns would come to stand under others.
  if (!hasSums) {
    bar.append(columns);
    show();
  }

  const shown = () => names.map((name, i) => (name && !head.cells[i].hidden ? i : -1)).filter((i) => i >= 0);
  const kindOf = (i) => {
    const texts = [...table.tBodies[0].rows].map((row) => textOf(row.cells[i])).filter((t) => t !== '');
    return texts.length === 0 ? 't' : head.cells[i].classList.contains('n') && texts.every((t) => numberOf(t) !== null) ? 'n' : texts.every((t) => /^\d{4}-\d{2}-\d{2}$/.test(dayOf(t)) && !dayOf(t).startsWith('0000')) ? 'd' : 't';
  };
  const taken = () => {
    const at = shown();
    const kinds = at.map(kindOf);
    const value = (text, kind) => (kind === 'n' ? String(numberOf(text) ?? '') : kind === 'd' ? dayOf(text) : text);
    const unit = (i) => head.cells[i].querySelector('small')?.textContent.trim();
    return {
      name: label.replace(/[^\w ,-]/g, '').trim().slice(0, 60) || 'table',
      heads: at.map((i) => names[i] + (unit(i) && !names[i].endsWith(unit(i)) ? ` ${unit(i)}` : '')),
      kinds,
      rows: [...table.tBodies[0].rows].map((row) => at.map((i, k) => value(textOf(row.cells[i]), kinds[k]))),
    };
  };
  bar.append(take('CSV', async () => {
    const sheet = taken();
    // A cell that a spreadsheet would run is written as text.
    const cell = (text) => {
      const safe = /^[=+\-@\t]/.test(text) && !/^-?\d+(\.\d+)?$/.test(text) ? `'${text}` : text;
      return /[",\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
    };
    const text = [sheet.heads, ...sheet.rows].map((row) => row.map(cell).join(',')).join('\r\n');
    save(new Blob([`${text}\r\n`], { type: 'text/csv' }), `${sheet.name}.csv`);
  }));
  bar.append(take('.xlsx', async () => {
    const sheet = taken();
    const token = document.querySelector('input[name=__RequestVerificationToken]').value;
    const answer = await fetch('/table.xlsx', { method: 'POST', headers: { 'content-type': 'application/json', RequestVerificationToken: token }, body: JSON.stringify(sheet) });
    if (answer.ok) save(await answer.blob(), `${sheet.name}.xlsx`);
    else window.alert('The workbook could not be made. Reload the page and try again.');
  }));
  (table.closest('.scroll') ?? table).after(bar);

  function take(word, action) {
    const button = document.createElement('button');
    button.type = 'button';
    button.className = 'link';
    button.textContent = word;
    button.setAttribute('aria-label', `Take away as ${word}: ${label}`);
    button.addEventListener('click', action);
    return button;
  }
}

function save(blob, name) {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

document.addEventListener('DOMContentLoaded', () => document.querySelectorAll('table.ledger').forEach(enhance));
