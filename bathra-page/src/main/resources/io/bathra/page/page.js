
"use strict";
(function () {
  const data = document.getElementById("data");
  if (!data) {
    return;
  }
  const { rows, words } = JSON.parse(data.textContent);
  const filters = document.querySelector(".filters");
  const blocks = Array.from(document.querySelectorAll(".block"));
  const lines = blocks.map(block => Array.from(block.children));
  const at = id => document.getElementById(id);

  function offer(select, values) {
    values.forEach(value => {
      const option = document.createElement("option");
      option.value = value;
      option.textContent = value;
      select.append(option);
    });
  }

  const once = list => Array.from(new Set(list)).filter(one => one !== "");
  offer(at("unit"), once(rows.map(row => String(row[0]))));
  offer(at("kind"), once(rows.map(row => words[row[1]])).sort());
  offer(at("table"), once(rows.map(row => words[row[2]])).sort());

  function filter() {
    const unit = at("unit").value;
    const kind = at("kind").value;
    const table = at("table").value;
    const text = at("text").value.toLowerCase();
    let number = 0;
    let shown = 0;
    lines.forEach((block, index) => {
      let any = false;
      block.forEach(line => {
        const row = rows[number++];
        const fits = (!unit || String(row[0]) === unit) && (!kind || words[row[1]] === kind)
          && (!table || words[row[2]] === table) && (!text || line.textContent.toLowerCase().includes(text));
        line.hidden = !fits;
        any = any || fits;
        shown += fits ? 1 : 0;
      });
      blocks[index].hidden = !any;
    });
    at("shown").textContent = shown === rows.length ? rows.length + " lines" : shown + " of " + rows.length + " lines";
  }

  ["unit", "kind", "table"].forEach(id => at(id).addEventListener("change", filter));
  at("text").addEventListener("input", filter);
  filters.addEventListener("submit", event => event.preventDefault());
  filters.hidden = false;
  filter();
})();
