<script setup lang="ts">
import { storeToRefs } from "pinia";
import MissingLedger from "@/panels/MissingLedger.vue";
import { useLedgers } from "@/state/ledgers";
import { count } from "@/words/words";

const { open } = storeToRefs(useLedgers());
</script>

<template>
  <div class="house">
    <header>
      <RouterLink to="/figures" class="mark">
        <svg viewBox="0 0 20 16" width="20" height="16" aria-hidden="true">
          <path d="M1 4.5h18M1 11.5h18" stroke="#a98f63" stroke-width="1.5" />
          <rect x="3" y="1.5" width="4" height="6" rx="2" fill="#f4efe4" />
          <rect x="8.5" y="1.5" width="4" height="6" rx="2" fill="#f4efe4" />
          <rect x="12" y="8.5" width="4" height="6" rx="2" fill="#d8a24a" />
        </svg>
        Lofty Abacus
      </RouterLink>
      <nav aria-label="Pages">
        <RouterLink :to="{ path: '/intake', query: open ? { ledger: String(open.id) } : {} }"
          >Intake</RouterLink
        >
        <RouterLink :to="{ path: '/figures', query: open ? { ledger: String(open.id) } : {} }"
          >Figures</RouterLink
        >
        <RouterLink :to="{ path: '/calendar', query: open ? { ledger: String(open.id) } : {} }"
          >Calendar</RouterLink
        >
      </nav>
      <p v-if="open" class="ledger" data-test="ledger">
        Ledger: {{ open.name }} · {{ count(open.lines, "line") }} · version {{ open.version }}
      </p>
    </header>
    <main>
      <MissingLedger />
      <RouterView />
    </main>
  </div>
</template>

<style scoped>
.house {
  display: flex;
  flex-direction: column;
  height: 100%;
}
header {
  display: flex;
  align-items: center;
  gap: 24px;
  height: 44px;
  padding: 0 18px;
  background: var(--slate);
  color: #f4efe4;
  flex: none;
}
.mark {
  display: flex;
  gap: 8px;
  align-items: center;
  font-weight: 700;
  color: inherit;
  text-decoration: none;
}
nav {
  display: flex;
  gap: 20px;
}
nav a {
  color: #cfd6d8;
  text-decoration: none;
  padding: 12px 0 9px;
  border-bottom: 3px solid transparent;
}
nav a.router-link-active {
  color: #fff;
  border-color: #d8a24a;
}
.ledger {
  margin: 0 0 0 auto;
  font-size: 12px;
  color: #dfe4e5;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
main {
  flex: 1;
  min-height: 0;
}
header :focus-visible {
  outline-color: #d8a24a;
}
</style>
