import { useReader } from "@/state/reader";
import { createRouter, createWebHistory } from "vue-router";

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", redirect: () => useReader().firstPage },
    { path: "/:page(figures|movers|scorecard)", component: () => import("@/pages/FiguresPage.vue") },
    { path: "/intake", component: () => import("@/pages/IntakePage.vue") },
    { path: "/briefs", component: () => import("@/pages/BriefsPage.vue") },
    { path: "/read/:brief(\\d+)/:issue(\\d+)?", component: () => import("@/pages/ReadPage.vue") },
    { path: "/calendar", component: () => import("@/pages/CalendarPage.vue") },
    { path: "/guide/:chapter?/:place?", component: () => import("@/pages/GuidePage.vue") },
    { path: "/print", component: () => import("@/pages/PrintPage.vue") },
    { path: "/l/:id", component: () => import("@/pages/LinkPage.vue") },
    { path: "/:rest(.*)*", component: () => import("@/pages/LostPage.vue") },
  ],
});
