"use strict";
const at = id => document.getElementById(id);
const fields = ["number", "vessel", "berth", "eta", "draughtCentimetres", "remark"];
let page = null, next = null, chosen = null;

function cell(row, text, kind) {
  const made = document.createElement("td");
  made.textContent = text ?? "";
  if (kind) made.className = kind;
  row.append(made);
}

function say(text, bad) {
  at("message").textContent = text;
  at("message").className = bad ? "bad" : "";
}

async function ask(path, options) {
  const answer = await fetch("/api/bookings" + path, options);
  const body = answer.status === 204 ? null : await answer.json().catch(() => null);
  await showTrace();
  return { status: answer.status, body };
}

async function show(after) {
  page = after;
  const { body } = await ask("?size=10" + (after ? "&after=" + encodeURIComponent(after) : ""));
  next = body.next;
  at("rows").replaceChildren(...body.items.map(item => {
    const row = document.createElement("tr");
    row.tabIndex = 0;
    cell(row, item.number); cell(row, item.vessel); cell(row, item.berth);
    cell(row, item.eta.slice(0, 16).replace("T", " ")); cell(row, item.draughtCentimetres ? (item.draughtCentimetres / 100).toFixed(2) + " m" : "", "number");
    cell(row, item.remark);
    row.onclick = () => open(item, row);
    row.onkeydown = event => { if (event.key === "Enter") open(item, row); };
    return row;
  }));
  at("next").disabled = !next;
  at("first").disabled = !after;
}

function open(item, row) {
  chosen = item;
  document.querySelectorAll("tr.chosen").forEach(one => one.classList.remove("chosen"));
  row?.classList.add("chosen");
  at("heading").textContent = item ? "Booking " + item.number : "New booking";
  fields.forEach(name => { at("form").elements[name].value = item?.[name] ?? ""; });
  at("delete").hidden = !item;
  at("conflict").hidden = true;
  problems([]);
  at("form").hidden = false;
  at("form").elements[0].focus();
}

function problems(list) {
  document.querySelectorAll(".problem").forEach(one => one.remove());
  fields.forEach(name => {
    const input = at("form").elements[name];
    const found = list.filter(one => one.field === name);
    input.setAttribute("aria-invalid", found.length > 0);
    input.removeAttribute("aria-describedby");
    found.forEach(one => {
      const note = document.createElement("span");
      note.className = "problem";
      note.id = "problem-" + name;
      note.textContent = one.reason;
      input.setAttribute("aria-describedby", note.id);
      input.after(note);
    });
  });
}

function title(name) {
  return at("form").elements[name]?.labels[0].firstChild.textContent.trim() ?? name;
}

function conflict(list) {
  const table = document.createElement("table");
  table.createTHead().insertRow().append(...["", "you read", "you want", "there is"].map(text => {
    const head = document.createElement("th");
    head.textContent = text;
    return head;
  }));
  const body = table.createTBody();
  list.forEach(one => {
    const row = body.insertRow();
    [one.field ? title(one.field) : "the booking", one.read, one.mine, one.theirs].forEach(text => cell(row, text));
  });
  const again = document.createElement("button");
  again.type = "button";
  again.textContent = "Show what is there";
  again.onclick = async () => {
    const { status, body } = await ask("/" + chosen.id);
    if (status === 200) open(body); else { at("form").hidden = true; say("The booking is gone.", true); }
    await show(page);
  };
  at("conflict").replaceChildren("Somebody else has changed this booking meanwhile:", table, again);
  at("conflict").hidden = false;
}

at("form").onsubmit = async event => {
  event.preventDefault();
  const form = Object.fromEntries(fields.map(name => [name, at("form").elements[name].value]));
  const headers = { "Content-Type": "application/json" };
  if (chosen) form.shown = Object.fromEntries(fields.map(name => [name, chosen[name] == null ? null : String(chosen[name])]));
  if (chosen) headers["If-Match"] = '"' + chosen.revision + '"';
  const { status, body } = await ask(chosen ? "/" + chosen.id : "", { method: chosen ? "PUT" : "POST", headers, body: JSON.stringify(form) });
  problems(status === 422 ? body.problems : []);
  at("conflict").hidden = true;
  if (status === 409) {
    conflict(body.conflicts);
    say("Not stored: somebody else was faster.", true);
  } else if (status === 422) {
    say("Not stored: see the fields.", true);
    at("form").querySelector("[aria-invalid=true]")?.focus();
  } else if (status >= 400) {
    say("Not stored: " + (body?.message ?? status), true);
  } else {
    say("Booking " + body.number + " is stored, revision " + body.revision + ".");
    at("form").hidden = true;
    const trace = at("trace").cloneNode(true);
    await show(page);
    at("trace").replaceWith(trace);
  }
};

at("delete").onclick = async () => {
  const { status, body } = await ask("/" + chosen.id, { method: "DELETE", headers: { "If-Match": '"' + chosen.revision + '"' } });
  if (status === 409) { conflict(body.conflicts); say("Not deleted: somebody else was faster.", true); return; }
  say("Booking " + chosen.number + " is deleted.");
  at("form").hidden = true;
  await show(page);
};

at("file").onchange = async () => {
  const text = await at("file").files[0].text();
  const { body } = await ask("/import", { method: "POST", headers: { "Content-Type": "text/csv" }, body: text });
  const refused = body.refused.map(one => "line " + one.line + ": " + one.problems.map(p => p.field + " " + p.reason).join(", "));
  say(body.stored + " stored" + (refused.length ? ", " + refused.length + " refused: " + refused.join("; ") : ""), refused.length > 0);
  at("file").value = "";
  await show(null);
};

async function showTrace() {
  const answer = await fetch("/api/trace");
  if (!answer.ok) return;
  const [last] = await answer.json();
  if (!last) return;
  at("trace").hidden = false;
  at("request").textContent = last.what + ": status " + last.status + ", " + last.lines.length + " lines";
  at("statements").replaceChildren(...last.lines.map(line => {
    const item = document.createElement("li"), code = document.createElement("code"), note = document.createElement("span");
    code.textContent = line.sql;
    note.className = "dim";
    note.textContent = " " + line.rows + " rows, " + line.millis.toFixed(2) + " ms, for " + line.purpose;
    item.append(code, note);
    return item;
  }));
}

at("new").onclick = () => open(null);
at("cancel").onclick = () => { at("form").hidden = true; };
at("next").onclick = () => show(next);
at("first").onclick = () => show(null);
show(null);
