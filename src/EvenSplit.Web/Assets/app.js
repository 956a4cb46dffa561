// What happens only in the browser. Every page reads without it.
document.addEventListener('alpine:init', () => {
  // A table one walks through with the arrow keys; Enter opens the row's own link.
  Alpine.data('walk', () => ({
    move(event) {
      const rows = [...this.$root.querySelectorAll('tbody tr[data-row]')];
      const at = rows.findIndex((row) => row.contains(document.activeElement));
      const to = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: rows.length - 1, PageDown: at + 15, PageUp: at - 15 }[event.key];
      if (to === undefined || event.target.matches('input, select, textarea')) return;
      const row = rows[Math.max(0, Math.min(rows.length - 1, to))];
      if (!row) return;
      event.preventDefault();
      (row.querySelector('a[data-open]') ?? row.querySelector('a, button, input')).focus();
      row.scrollIntoView({ block: 'nearest' });
    },
  }));

  // A bench is worked through by keyboard: a letter does what its button does, or goes to the field that has to be filled in first.
  Alpine.data('bench', () => ({
    key(event) {
      if (event.ctrlKey || event.metaKey || event.altKey || event.target.matches('input:not([type=checkbox]), select, textarea')) return;
      const field = this.$root.querySelector(`[data-key-focus="${CSS.escape(event.key)}"]`);
      const button = this.$root.querySelector(`button[data-key="${CSS.escape(event.key)}"]`);
      if (!field && !button) return;
      event.preventDefault();
      const needed = button?.dataset.needs ? document.getElementById(button.dataset.needs) : null;
      if (field) field.focus();
      else if (needed && !needed.value) needed.focus();
      else button.click();
    },
  }));

  // One mark for all the rows of a table.
  Alpine.data('markAll', () => ({
    mark(event) {
      for (const box of this.$root.closest('table').querySelectorAll('tbody input[type=checkbox]')) box.checked = event.target.checked;
      this.$root.closest('form').querySelector('details.many')?.setAttribute('open', '');
    },
  }));

  // On a phone the bar shows its first line; the rest unfolds.
  Alpine.data('fold', () => ({
    open: false,
    init() {
      this.$root.dataset.folded = '';
    },
    turn() {
      this.open = !this.open;
      if (this.open) delete this.$root.dataset.folded;
      else this.$root.dataset.folded = '';
    },
  }));

  // Filters in a sentence apply as soon as one is changed.
  Alpine.data('applyOnChange', () => ({
    apply() {
      this.$root.requestSubmit();
    },
  }));

  // Shows what a form would do while it is being filled in; the server works it out.
  Alpine.data('preview', () => ({
    waiting: null,
    asked: 0,
    changed() {
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.ask(), 120);
    },
    async ask() {
      const asked = ++this.asked;
      const form = this.$root.querySelector('form[data-preview]');
      const draft = new FormData(form);
      // Looking is not sending: beside the form itself it would count as having sent it twice.
      draft.delete('once');
      const answer = await fetch(form.dataset.preview, { method: 'POST', body: draft });
      const text = await answer.text();
      if (answer.ok && asked === this.asked) document.getElementById('preview').innerHTML = text;
    },
  }));

  // Fetches a part of the page again until it says it is finished.
  Alpine.data('progress', () => ({
    init() {
      const next = async () => {
        const answer = await fetch(this.$root.dataset.from);
        if (answer.redirected) return location.reload();
        this.$root.innerHTML = await answer.text();
        if (this.$root.querySelector('[data-finished]')) location.reload();
        else setTimeout(next, 700);
      };
      if (!this.$root.querySelector('[data-finished]')) setTimeout(next, 700);
    },
  }));

  // Asks once before something that cannot be undone.
  Alpine.data('confirm', () => ({
    ask(event) {
      if (!window.confirm(this.$root.dataset.question)) event.preventDefault();
    },
  }));

  // Says under a field what is wrong with it while it is typed; the server says so again.
  const tell = (input, words) => {
    let line = input.parentElement.querySelector('.live');
    if (!line) {
      line = document.createElement('p');
      line.className = 'help live';
      line.setAttribute('role', 'status');
      input.after(line);
    }
    line.textContent = words;
  };

  Alpine.data('iban', () => ({
    check(event) {
      const iban = event.target.value.replace(/\s/g, '').toUpperCase();
      if (iban.length < 15) return tell(event.target, iban.length === 0 ? '' : `${iban.length} characters so far`);
      if (!/^[A-Z]{2}[0-9]{2}[A-Z0-9]+$/.test(iban)) return tell(event.target, 'Two letters, two digits, then letters and digits only.');
      let remainder = 0;
      for (const c of iban.slice(4) + iban.slice(0, 4)) {
        const value = parseInt(c, 36);
        remainder = (remainder * (value > 9 ? 100 : 10) + value) % 97;
      }
      return tell(event.target, remainder === 1 ? `The check digits fit: ${iban.match(/.{1,4}/g).join(' ')}` : 'The check digits do not fit.');
    },
  }));

  Alpine.data('bic', () => ({
    check(event) {
      const bic = event.target.value.trim();
      tell(event.target, bic.length === 0 ? '' : /^[A-Za-z]{6}[A-Za-z0-9]{2}([A-Za-z0-9]{3})?$/.test(bic) ? 'Looks like a BIC.' : 'Six letters, then two or five letters or digits.');
    },
  }));

  // Shows the fields that go with what is chosen in a list.
  Alpine.data('chosen', () => ({
    what: '',
    init() {
      this.what = this.$root.dataset.chosen;
    },
    choose(event) {
      this.what = event.target.value;
    },
    get isBank() {
      return this.what === 'Bank';
    },
    get isWallet() {
      return this.what === 'Wallet';
    },
    get isThrough() {
      return this.what === 'Through';
    },
  }));

  // Asks the browser for a passkey, or makes one, and sends the form with what it answered.
  Alpine.data('passkey', () => ({
    fault: '',
    async show() {
      await this.send((options) => navigator.credentials.get({ publicKey: PublicKeyCredential.parseRequestOptionsFromJSON(options) }));
    },
    async make() {
      if (!this.$root.reportValidity()) return;
      await this.send((options) => navigator.credentials.create({ publicKey: PublicKeyCredential.parseCreationOptionsFromJSON(options) }));
    },
    async send(ask) {
      this.fault = '';
      if (!window.PublicKeyCredential?.parseRequestOptionsFromJSON) {
        this.fault = 'This browser has no passkeys.';
        return;
      }
      try {
        const credential = await ask(JSON.parse(this.$root.dataset.options));
        this.$refs.credential.value = JSON.stringify(credential.toJSON());
        this.$root.submit();
      } catch {
        this.fault = 'No passkey was given.';
      }
    },
  }));

  Alpine.data('print', () => ({
    now() {
      window.print();
    },
  }));
});

// Somebody else changed the thing meanwhile: beside each field that says otherwise stands what is in the book by now, to be taken with one press.
const shownValue = (field) => (field.type === 'checkbox' || field.type === 'radio' ? (field.checked ? 'yes' : 'no') : field instanceof HTMLSelectElement ? field.selectedOptions[0]?.text ?? '' : field.value);
async function besideEachOther() {
  const page = new URL(location.href);
  page.searchParams.delete('handler');
  const answer = await fetch(page);
  if (!answer.ok) return;
  const now = new DOMParser().parseFromString(await answer.text(), 'text/html');
  const sameField = (field) => [...now.querySelectorAll(`form [name="${CSS.escape(field.name)}"]`)].find((other) => field.type !== 'radio' || other.value === field.value);
  for (const field of document.querySelectorAll('main form[method=post] :is(input, select, textarea)')) {
    if (!field.name || field.type === 'hidden' || field.type === 'file' || field.type === 'password') continue;
    const other = sameField(field);
    if (!other || shownValue(other) === shownValue(field) || (field.type === 'radio' && !other.checked)) continue;
    const line = document.createElement('p');
    line.className = 'help beside';
    const take = document.createElement('button');
    take.type = 'button';
    take.className = 'button quiet small';
    take.textContent = 'Take that';
    take.addEventListener('click', () => {
      if (field.type === 'checkbox' || field.type === 'radio') field.checked = other.checked;
      else field.value = other.value;
      line.remove();
      field.focus();
    });
    line.append(`In the book by now: ${shownValue(other) || 'nothing'} `, take);
    (field.closest('label') ?? field).after(line);
  }
}
document.addEventListener('DOMContentLoaded', () => {
  if (document.querySelector('main[data-changed=true]')) besideEachOther();
});

// In a long list the first choice with the letters typed anywhere in it is taken: part of a name is enough.
const longList = 8;
const pause = 1200;
let typed = { list: null, text: '', at: 0 };
document.addEventListener('keydown', (event) => {
  const list = event.target;
  if (!(list instanceof HTMLSelectElement) || list.multiple || list.options.length < longList || event.key.length !== 1 || event.ctrlKey || event.metaKey || event.altKey) return;
  const now = Date.now();
  const goesOn = typed.list === list && now - typed.at < pause;
  if (event.key === ' ' && !goesOn) return;
  typed = { list, text: (goesOn ? typed.text : '') + event.key.toLowerCase(), at: now };
  const choices = [...list.options].filter((option) => !option.disabled);
  const found = choices.find((option) => option.text.toLowerCase().startsWith(typed.text)) ?? choices.find((option) => option.text.toLowerCase().includes(typed.text) || option.value.toLowerCase().includes(typed.text));
  event.preventDefault();
  if (!found || found.selected) return;
  list.value = found.value;
  list.dispatchEvent(new Event('input', { bubbles: true }));
  list.dispatchEvent(new Event('change', { bubbles: true }));
});
document.addEventListener('DOMContentLoaded', () => {
  for (const list of document.querySelectorAll('select')) if (list.options.length >= longList && !list.title) list.title = 'Type part of a name';
});

// Where something was refused, one is led there; after going back, to the row one had opened.
document.addEventListener('DOMContentLoaded', () => {
  const fault = document.querySelector('[aria-invalid=true]') ?? document.querySelector('.field .fault')?.closest('.field').querySelector('input, select, textarea');
  const told = fault ?? document.querySelector('p.note.bad[role=alert][tabindex]');
  if (told) {
    told.closest('details')?.setAttribute('open', '');
    told.focus();
  } else if (performance.getEntriesByType('navigation')[0]?.type === 'back_forward') {
    const opened = sessionStorage.getItem('opened ' + location.href);
    if (opened) [...document.querySelectorAll('a[data-open]')].find((link) => link.getAttribute('href') === opened)?.focus();
  }
});
document.addEventListener('click', (event) => {
  if (event.target.closest('[data-help]')) document.getElementById('keys').showModal();
  const link = event.target.closest('a[data-open]');
  if (link) sessionStorage.setItem('opened ' + location.href, link.getAttribute('href'));
});

document.addEventListener('keydown', (event) => {
  const typing = event.target.matches('input:not([type=checkbox]):not([type=radio]), select, textarea');
  if (event.key === 'Escape') {
    const help = document.getElementById('keys');
    if (help?.open) return;
    if (typing) return event.target.blur();
    document.querySelector('a[data-close]')?.click();
  }
  if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === '/') {
    event.preventDefault();
    document.querySelector('[data-search]')?.focus();
  }
  if (event.key === '?') document.getElementById('keys')?.showModal();
  if (event.key === 'ArrowDown' && document.activeElement === document.body) {
    const first = document.querySelector('[x-data^=walk] a[data-open]');
    if (first) {
      event.preventDefault();
      first.focus();
    }
  }
});

// What is worked out by the side is asked for again until it is there.
document.addEventListener('DOMContentLoaded', () => {
  const waiting = document.querySelector('form[data-again]');
  if (waiting) setTimeout(() => waiting.requestSubmit(), Number(waiting.dataset.again));
});
