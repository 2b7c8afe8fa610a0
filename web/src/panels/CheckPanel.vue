<script setup lang="ts">
/** What posting a file would bring, and what stands in its way. */
import { computed } from "vue";
import type { FileCheck, Mapping } from "@/contract";
import { rangeText } from "@/model/days";
import { grouped } from "@/model/numbers";
import { count } from "@/words/words";

const props = defineProps<{ check: FileCheck; mapping: Mapping }>();
const listed = computed(() => [...props.check.problems, ...props.check.repeated, ...props.check.set_aside]);
const emit = defineEmits<{ change: [next: Partial<Mapping>] }>();
</script>

<template>
  <div class="check" data-test="check">
    <p v-if="check.kind === 'lookup'">{{ count(check.lines, "key") }} to be mapped</p>
    <dl v-else>
      <div>
        <dt>Lines</dt>
        <dd data-test="check-lines">{{ check.lines.toLocaleString("en") }}</dd>
      </div>
      <div>
        <dt>Control total</dt>
        <dd data-test="check-amount">{{ grouped(check.amount) }}</dd>
      </div>
      <div>
        <dt>Days</dt>
        <dd data-test="check-days">
          {{ check.first_day && check.last_day ? rangeText(check.first_day, check.last_day) : "none" }}
        </dd>
      </div>
      <div>
        <dt>Sales, returns</dt>
        <dd>{{ check.sale_lines.toLocaleString("en") }}, {{ check.return_lines.toLocaleString("en") }}</dd>
      </div>
      <div>
        <dt>Days without lines</dt>
        <dd>{{ check.days_without_lines }}</dd>
      </div>
      <div v-if="check.lines_after_today">
        <dt>Dated after today</dt>
        <dd>{{ count(check.lines_after_today, "line") }}</dd>
      </div>
      <div v-if="check.left_out">
        <dt>Left out</dt>
        <dd>{{ count(check.left_out, "line") }}</dd>
      </div>
      <div v-if="check.set_aside.length">
        <dt>Totals and headings set aside</dt>
        <dd>{{ count(check.set_aside.length, "row") }}</dd>
      </div>
      <div v-if="check.blank_rows">
        <dt>Blank rows</dt>
        <dd>{{ check.blank_rows }}</dd>
      </div>
    </dl>
    <ul v-if="check.blocking.length" class="trouble">
      <li v-for="sentence in check.blocking" :key="sentence" data-test="blocking">{{ sentence }}</li>
    </ul>
    <label v-if="check.repeated_count"
      ><input
        type="checkbox"
        :checked="mapping.repeated === 'leave_out'"
        data-test="leave-repeated"
        @change="emit('change', { repeated: mapping.repeated === 'leave_out' ? 'refuse' : 'leave_out' })"
      />
      Leave {{ count(check.repeated_count, "repeated line") }} out</label
    >
    <label v-if="check.problem_count && mapping.kind !== 'lookup'"
      ><input
        type="checkbox"
        :checked="mapping.unreadable === 'leave_out'"
        data-test="leave-unreadable"
        @change="emit('change', { unreadable: mapping.unreadable === 'leave_out' ? 'refuse' : 'leave_out' })"
      />
      Leave lines with unreadable values out</label
    >
    <div v-if="listed.length" class="problems" tabindex="0" aria-label="Values with problems">
      <table>
        <thead>
          <tr>
            <th>Row</th>
            <th>Column</th>
            <th>Text</th>
            <th>Why</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(problem, at) in listed" :key="at" data-test="problem">
            <td class="number">{{ problem.row }}</td>
            <td>{{ problem.column || "whole row" }}</td>
            <td>{{ problem.text || "(blank)" }}</td>
            <td>{{ problem.reason }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="check.problem_count > check.problems.length" class="quiet">
      and {{ count(check.problem_count - check.problems.length, "more value") }}
    </p>
  </div>
</template>

<style scoped>
dl {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 26px;
  margin: 8px 0;
}
dt {
  font-size: 11px;
  color: var(--quiet);
}
dd {
  margin: 0;
  font-weight: 700;
  font-variant-numeric: tabular-nums;
}
label {
  display: block;
  padding: 3px 0;
}
.trouble {
  margin: 6px 0;
  padding-left: 28px;
}

.problems {
  max-height: 150px;
  overflow-y: auto;
  margin-bottom: 8px;
}
table {
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  padding: 2px 10px 2px 0;
  border-bottom: 1px solid var(--line);
}
</style>
